"""From a document and control values to posed points."""
