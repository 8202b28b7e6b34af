"""What is found on a head by everybody who works on it: its skin, eyes and openings, how it stands, and its regions."""
