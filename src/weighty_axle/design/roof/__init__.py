"""Strings, layouts, shade, yield and fixings."""
