"""Bottles on their way: steps, labels, orders, figures typed from paper."""
