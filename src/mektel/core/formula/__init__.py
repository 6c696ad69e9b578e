"""Formulas: a safe subset of Python's expressions, that can only compute."""

from mektel.core.formula.evaluate import Scope, Value, evaluate
from mektel.core.formula.language import (
    FUNCTIONS,
    LONGEST_CHAIN,
    Formula,
    FormulaError,
    parse,
)

__all__ = [
    "FUNCTIONS", "LONGEST_CHAIN", "Formula", "FormulaError", "Scope", "Value", "evaluate", "parse",
]
