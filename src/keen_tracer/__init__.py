"""Keen Tracer: engines watched through their oil."""

__version__ = "0.20.0"
