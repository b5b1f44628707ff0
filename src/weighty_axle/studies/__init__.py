"""Studies: work that derives, judges and lives many designs of a job."""
