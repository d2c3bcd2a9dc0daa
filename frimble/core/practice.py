"""What the hand does at a step, in the order it does it: shown where it is done, folded for the practised."""

# Common practice, no source.
_HANDS = {
    "degrease": (
        "The frame is scrubbed before the mesh, with a brush of its own: what hides along the rails runs out later.",
        "Wet both sides. A soft brush for the mesh, up and down, across and in circles, print side and squeegee side.",
        "Rinse from the top, rails and corners too, until no foam comes and then longer.",
        "Look against the light before it dries: what is left now is under the next coat for good.",
    ),
    "coat": (
        "Light of the emulsion's own safety when its container is opened: yellow, and no daylight through the door.",
        "The frame against a stop, leaning a little, so that both hands are free for the coater.",
        "Start an inch up from the lower rail. Tilt until the emulsion touches the mesh over its whole length; wait for it.",
        "Two hands, one even pull at one speed and one pressure to the same height each time; never stop on the way.",
        "At the top roll the coater back so that the emulsion runs home, and shear off with a short upward move.",
        "Turn the screen as the formula says, the same end up each time. Wipe drips off rails and edge at once.",
        "Fill back to the mark before the next screen; look along the edge each time.",
    ),
    "expose": (
        "Wipe glass and film; no dust between film and coat.",
        "Film on the print side, its printed side against the coat. A sheet made clear with oil is oiled on both faces, "
        "and its bubbles are rubbed out first.",
        "Lay it by the marks and the frame's corner, tape it at two corners, and look from the squeegee side before light.",
    ),
    "wash": (
        "Wet both sides lightly at once: that stops the light where it is.",
        "Soak; let water do the work. From the print side, at one distance, from above the image to below it.",
        "Turn the washer off and lay the gun down before touching the screen.",
    ),
    "inspect": (
        "Dry it, hold it against the light, and go over it in tracks from one corner.",
        "Pinholes: filler from the squeegee side with something flat under the screen, so that it does not run through. "
        "Tape on the print side does instead for a short run, and comes off before filler would.",
        "Tape the margin and the inner corner of the frame, with no edge in the squeegee's way.",
    ),
    "reclaim": (
        "Tape off and ink out first; then remover on both sides with the pad kept for it.",
        "Let it dwell wet, never dry. Rinse close, in level tracks, from below to above.",
        "Turn the washer off and lay the gun down before touching the screen, as at the wash.",
        "Look against the light before it dries: what is found is drawn now.",
    ),
    "image": (
        "Film side to the head, the mesh flat and square in its holder; a head that lifts leaves lines.",
        "Look at the first square against the light: burned through, no film left in the openings.",
    ),
}  # fmt: skip


def hands(step: str) -> tuple[str, ...]:
    """What the hand does at a step, in order; nothing where it needs no telling."""
    return _HANDS.get(step, ())
