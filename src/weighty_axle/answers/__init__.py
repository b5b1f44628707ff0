"""Answers on demand, a folder per step: functions of a Design that cost too much to be always there, or ask first."""
