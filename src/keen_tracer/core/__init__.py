"""The job's rules: plain functions and frozen records. No interface and no database code."""
