"""What people do with the program. The routes and the command line share these, with their
transactions."""
