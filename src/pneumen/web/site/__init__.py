"""Settings, addresses, middleware, and the server."""
