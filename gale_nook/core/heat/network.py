"""A lumped thermal network: nodes with heat capacity, joined to one another and to fixed
temperatures.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np


@dataclass(frozen=True)
class Network:
    """dT/dt = C⁻¹(−K·T + G·T_fixed + P), exact over steps in which the right-hand side's inputs are
    constant.

    Attributes:
        capacities_j_k: of the nodes, all above 0, (n,).
        links_w_k: between nodes, symmetric with an empty diagonal, (n, n).
        fixed_w_k: from each node to each fixed temperature, (n, m).
    """

    capacities_j_k: Any
    links_w_k: Any
    fixed_w_k: Any

    @cached_property
    def _conductance(self) -> Any:
        """K: symmetric, (n, n)."""
        return np.diag(self.links_w_k.sum(axis=1) + self.fixed_w_k.sum(axis=1)) - self.links_w_k

    @cached_property
    def _modes(self) -> tuple[Any, Any, Any]:
        """C^½, and rates and shapes of the modes."""
        if not np.all(np.asarray(self.capacities_j_k) > 0):
            raise ValueError("every node of a thermal network needs a heat capacity above 0")
        root = np.sqrt(self.capacities_j_k)
        rates, modes = np.linalg.eigh(self._conductance / np.outer(root, root))
        return root, np.maximum(rates, 1e-15), modes

    def stepper(self, step_s: float) -> tuple[Any, Any]:
        """Return (Φ, Γ), both (n, n), with T(t + step) = Φ·T(t) + Γ·q.

        q is the heat into each node from fixed temperatures and sources (W, constant over the
        step). The matrix C^-½ K C^-½ is symmetric, so its modes are real; each decays by itself.
        """
        root, rates, modes = self._modes
        decay = np.exp(-rates * step_s)
        gain = -np.expm1(-rates * step_s) / rates  # exact for slow modes too
        into, out = modes.T * root, modes / root[:, None]
        phi = out @ (decay[:, None] * into)
        gamma = out @ (gain[:, None] * (modes.T / root))
        return phi, gamma

    def heat_from_fixed_w(self, temperatures_c: Sequence[float]) -> Any:
        """Return the heat that fixed temperatures would give to nodes at 0 °C, (n,)."""
        return self.fixed_w_k @ np.asarray(temperatures_c, dtype=float)

    def steady_c(self, temperatures_c: Sequence[float], sources_w: Sequence[float]) -> Any:
        """Return the temperatures at which nothing changes any more, (n,)."""
        return np.linalg.solve(
            self._conductance,
            self.heat_from_fixed_w(temperatures_c) + np.asarray(sources_w, dtype=float),
        )
