"""`./keen bench detection`: how early the judgement catches invented faults, and how quiet it is on
healthy engines.

The simulator has equations of its own and knows none of the rules it measures.
"""
