"""The ledger of what takes room: every thing announces its body, and every pair is looked at."""
