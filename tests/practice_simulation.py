"""Simulated students: skills with a bias and a spread each, in tolerances, asked as the choice of the next question has
it.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.practice.choice import Candidate, choose, weakest
from aspectum.core.practice.difficulty import FIRST, next_difficulty
from aspectum.core.practice.record import trend
from aspectum.core.practice.skills import KINDS, Group, Skill

WEAK_BIAS, STEADY_BIAS, SPREADS = (1.2, 2.0), 0.4, (0.6, 1.1)


@dataclass(frozen=True)
class Student:
    """Bias and spread of each skill, in tolerances, and which are weak."""

    bias: dict[Skill, float]
    spread: dict[Skill, float]
    weak: frozenset[Skill]

    def error(self, skill: Skill, rng: np.random.Generator) -> float:
        return float(rng.normal(self.bias[skill], self.spread[skill]))


def student(rng: np.random.Generator, skills: int = 20, weak: int = 2) -> Student:
    chosen = [list(Skill)[k] for k in rng.choice(len(Skill), skills, replace=False)]
    bias = {skill: float(rng.uniform(-STEADY_BIAS, STEADY_BIAS)) for skill in chosen}
    # a list: a set's order changes from one process to the next, and with it who draws which bias
    off = [chosen[k] for k in rng.choice(skills, weak, replace=False)]
    for skill in off:
        bias[skill] = float(rng.uniform(*WEAK_BIAS) * rng.choice([-1, 1]))
    return Student(bias, {skill: float(rng.uniform(*SPREADS)) for skill in chosen}, frozenset(off))


@dataclass(frozen=True)
class Practised:
    """What came of some questions: whether both weak skills are named, how far their biases were known, and the kinds
    asked in order.
    """

    named: bool
    misses: list[float]
    asked: list[Skill]


def practise(who: Student, questions: int, rng: np.random.Generator) -> Practised:
    errors: dict[Skill, list[float]] = {skill: [] for skill in who.bias}
    last: Group | None = None
    asked = []
    for _ in range(questions):
        skill = choose([Candidate(s, np.array(e)) for s, e in errors.items()], last, rng)
        errors[skill].append(who.error(skill, rng))
        asked.append(skill)
        last = KINDS[skill].group
    found = weakest({skill: np.array(e) for skill, e in errors.items()}, len(who.weak))
    return Practised(set(found) == who.weak, [float(np.mean(errors[s]) - who.bias[s]) for s in who.weak], asked)


def asked_in_turn(who: Student, questions: int, rng: np.random.Generator) -> Practised:
    """Every skill equally often: what the choice must do better than."""
    errors: dict[Skill, list[float]] = {skill: [] for skill in who.bias}
    order = [list(who.bias)[k % len(who.bias)] for k in range(questions)]
    for skill in order:
        errors[skill].append(who.error(skill, rng))
    found = weakest({skill: np.array(e) for skill, e in errors.items()}, len(who.weak))
    return Practised(set(found) == who.weak, [float(np.mean(errors[s]) - who.bias[s]) for s in who.weak], order)


def learning_trend(rng: np.random.Generator, questions: int = 60) -> bool:
    """Whether the trend's sign is right for a bias that falls by half in so many questions."""
    first = float(rng.uniform(*WEAK_BIAS) * rng.choice([-1, 1]))
    days = np.arange(questions, dtype=float)
    bias = first * (1.0 - 0.5 * days / (questions - 1))
    found = trend(days, bias + rng.normal(0.0, rng.uniform(*SPREADS), questions))
    return found is not None and found.change.value * first < 0


def share_right(rng: np.random.Generator, questions: int = 200, settled: int = 60) -> float:
    """The share within tolerance once the difficulty has settled, of a student whose errors grow with it."""
    level, right = FIRST, []
    ease, steep = float(rng.uniform(0.4, 0.6)), float(rng.uniform(1.0, 2.0))
    for _ in range(questions):
        right.append(abs(float(rng.normal(0.0, ease + steep * level))) <= 1.0)
        level = next_difficulty(level, right[-1])
    return float(np.mean(right[settled:]))
