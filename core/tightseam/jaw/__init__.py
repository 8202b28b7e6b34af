"""The Jaw station: how the jaw moves, reliefs, lips that seal, the neck, and what all of them measure."""
