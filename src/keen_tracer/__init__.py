"""Keen Tracer: engines watched through their oil."""

__version__ = "0.21.0"
