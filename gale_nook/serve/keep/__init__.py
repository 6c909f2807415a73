"""Safekeeping: backups that are read back, restoring, and every job as open files."""
