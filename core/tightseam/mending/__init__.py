"""What would put a fault of the mix right, each way measured over everything."""
