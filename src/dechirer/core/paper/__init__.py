"""Paper: its weight and thickness, and the published sizes of sheets, cards and envelopes."""
