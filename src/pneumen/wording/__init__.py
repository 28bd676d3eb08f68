"""What the core found, in sentences: once for the web and the command line. The core returns kinds and quantities."""
