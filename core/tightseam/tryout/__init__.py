"""What an edit would do, before it is done."""
