"""Check-in: is a head that arrives from modelling fit to be rigged?"""
