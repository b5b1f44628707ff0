"""Cut list: every conductor as it is cut, and what comes off which reel."""
