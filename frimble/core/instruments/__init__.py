"""Simulated stand-ins for the room's instruments and for the screens they measure. Nothing here judges anything."""
