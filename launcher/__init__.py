"""Set-up and start of Keen Tracer. Standard library only: it runs before anything is installed."""
