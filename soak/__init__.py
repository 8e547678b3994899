"""Long random work in the real window, and kills: what shows that nothing ends it, blocks it or loses work."""
