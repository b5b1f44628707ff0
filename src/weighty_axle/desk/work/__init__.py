"""The open job: session, background, files, commands, preferences."""
