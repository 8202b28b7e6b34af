"""What a character is: immutable values whose arrays live in an array store under their content hash."""
