"""Fonts and icons that ship with the program, with their licences."""
