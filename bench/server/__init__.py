"""A server under stress: killed, doubled, and with many devices."""
