"""Log, recorded data, repair: answers on demand."""
