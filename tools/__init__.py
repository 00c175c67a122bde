"""What developing and demonstrating need around the application."""
