"""Judging, publishing what is judged by, and what people decide."""
