"""The demo cast, made from formulas; nothing but the command line and the tests may import it."""
