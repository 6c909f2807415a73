"""What the first firing brings to the order of work."""

from __future__ import annotations

from collections.abc import Iterator

from gale_nook.core.firing.expected import expected_phases
from gale_nook.core.firing.pre_checks import pre_checks
from gale_nook.core.job import Job
from gale_nook.core.quantities.sentences import q
from gale_nook.core.station import Step


def firing_steps(job: Job) -> Iterator[Step]:
    """The checks before, the firing with what it should show, the re-check after an hour."""
    phases = {each.phase: each for each in expected_phases(job)}
    if not phases or job.plan.spot is None:
        return
    yield Step(
        "check-before",
        "Check before the first fire",
        " ".join(check.text for check in pre_checks(job)),
        ("fumes", "fuel"),
    )
    glow, flame, full = phases["glow"], phases["flame"], phases["full"]
    shown = []
    volts = glow.values.get("voltage_v")
    if volts is not None:
        shown.append(
            f"{q(round(volts.low, 1), 'v')} to {q(round(volts.high, 1), 'v')} at the plug while "
            "it glows"
        )
    if flame.begins_s is not None:
        shown.append(
            f"the flame {q(round(flame.begins_s[0]), 's')} to {q(round(flame.begins_s[1]), 's')} "
            "after switching on"
        )
    ticks = full.values.get("pump_hz")
    if ticks is not None:
        shown.append(
            f"{q(round(ticks.low, 1), 'hz')} to {q(round(ticks.high, 1), 'hz')} ticks at full"
        )
    yield Step(
        "first-fire",
        "First fire",
        f"Outdoors, somebody beside it all the time. Expected: {'; '.join(shown)}. Anything over: "
        "switch it off, let it run out, look for the cause.",
        ("fumes", "hot"),
    )
    yield Step(
        "look-again",
        "Look again after an hour at full",
        "Clamps, joints, smell, smoke, liners and timber near the exhaust: the place survey of "
        "First fire lists them.",
        ("hot", "fumes"),
    )
