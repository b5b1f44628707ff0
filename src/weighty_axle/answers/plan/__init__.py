"""Work plan: tasks, who does them when, tools, the board on the bench."""
