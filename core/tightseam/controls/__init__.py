"""Controls: handles for animators."""
