"""The HTTP contract: routes parse, call a use case, answer. No rule of the job lives here."""
