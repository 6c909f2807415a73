"""Solves duct networks with a general pipe-network library, in an environment of its own: cases as
JSON on standard input, flows and seconds as JSON on standard output. Run by tests and benchmarks as
`.venv-network/bin/python benchmarks/pipe_network.py`.

A case: `kelvin` and `fluid` ("air" where it is left out), `source_pa` at node 0, how many `nodes`,
and `branches` with `start`, `end` (-1 for outside), `length_m`, `bore_m`, `roughness_m`, `loss_k`.
"""

from __future__ import annotations

import json
import sys
import time
from typing import Any


def solve(case: dict[str, Any]) -> dict[str, Any]:
    """Return flows in kg/s, the library's density and viscosity, and the seconds that it took."""
    import pandapipes as pp  # noqa: PLC0415 - only in the environment of its own

    kelvin = case["kelvin"]
    net = pp.create_empty_network(fluid=case.get("fluid", "air"))
    nodes = [pp.create_junction(net, pn_bar=1.0, tfluid_k=kelvin) for _ in range(case["nodes"])]
    # pressures are over the atmosphere's
    pp.create_ext_grid(net, nodes[0], p_bar=case["source_pa"] / 1e5, t_k=kelvin, type="pt")
    for branch in case["branches"]:
        if branch["end"] >= 0:
            end = nodes[branch["end"]]
        else:
            end = pp.create_junction(net, pn_bar=1.0, tfluid_k=kelvin)
            pp.create_ext_grid(net, end, p_bar=0.0, type="p")
        pp.create_pipe_from_parameters(
            net,
            nodes[branch["start"]],
            end,
            length_km=branch["length_m"] / 1000,
            inner_diameter_mm=branch["bore_m"] * 1000,
            k_mm=branch["roughness_m"] * 1000,
            loss_coefficient=branch["loss_k"],
            sections=1,
            text_k=kelvin,
            u_w_per_m2k=0.0,
        )
    begun = time.perf_counter()
    pp.pipeflow(
        net,
        friction_model="colebrook",
        use_numba=False,
        iter=300,
        max_iter_colebrook=200,
        tol_p=1e-8,
        tol_m=1e-9,
    )
    seconds = time.perf_counter() - begun
    return {
        "flow_kg_s": [float(flow) for flow in net.res_pipe.mdot_from_kg_per_s],
        "density_kg_m3": float(net.fluid.get_density(kelvin)),
        "viscosity_pa_s": float(net.fluid.get_viscosity(kelvin)),
        "seconds": seconds,
    }


def main() -> None:
    cases = json.load(sys.stdin)
    json.dump([solve(case) for case in cases], sys.stdout)


if __name__ == "__main__":
    main()
