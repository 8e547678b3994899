"""Brief: what the finished card is. Typed figures, and the facts of each paper on hand."""
