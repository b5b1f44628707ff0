"""The document: what was stated or measured about one vehicle's system. No physics here."""
