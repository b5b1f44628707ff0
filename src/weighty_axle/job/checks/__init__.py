"""What makes a job unacceptable, step by step; judgement of the design is in rules/."""
