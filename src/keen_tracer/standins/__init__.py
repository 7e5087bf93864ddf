"""Stand-ins for what lies outside the program: a laboratory. Everything they say is invented."""
