"""Findings as types: what a verdict can be made of, what each carries, how it is stored."""

from . import payloads
from .payloads import n_digits
from .registry import REGISTRY, Finding, Kind, plain, stored
from .trouble import trouble

__all__ = ["REGISTRY", "Finding", "Kind", "n_digits", "payloads", "plain", "stored", "trouble"]
