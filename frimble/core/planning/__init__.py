"""The room's day: who does which step of which screen when, so that screens are at the press in time."""
