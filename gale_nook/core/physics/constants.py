"""Constants of nature and of air, each once."""

from __future__ import annotations

from scipy import constants

GRAVITY_M_S2: float = constants.g
ZERO_C_K: float = constants.zero_Celsius
STEFAN_BOLTZMANN: float = constants.Stefan_Boltzmann  # W/(m²K⁴)
AIR_CONSTANT_J_KGK = 287.05  # ISO 2533
