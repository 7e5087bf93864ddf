"""What the use cases answer: the one shape of each answer, filled by a page and sent as it is."""
