"""Keen Tracer: engines watched through their oil."""
