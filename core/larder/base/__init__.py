"""What everything stands on: errors, units, fields, patches, guards, memos."""
