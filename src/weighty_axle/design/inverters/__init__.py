"""The AC side: sources, states, panels, legs."""
