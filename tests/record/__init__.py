"""A record of what the core computes, against which each step is compared.

`python -m tests.record` takes it anew; do that where a change of what is computed is meant, and say why in the commit.
"""
