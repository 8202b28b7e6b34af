"""Made-up performances, played into the controls as a capture device would send them."""
