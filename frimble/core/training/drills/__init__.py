"""The drills, one file each: what is shown, what is asked, what was true."""
