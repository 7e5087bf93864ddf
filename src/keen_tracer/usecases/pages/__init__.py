"""What each screen shows. Reads only."""
