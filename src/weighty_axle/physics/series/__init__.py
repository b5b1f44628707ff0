"""Series in time: lines through points, changes and when they came."""
