"""Where a job's photos to scale are."""

from __future__ import annotations

import hashlib

from gale_nook.core.plan.photo import Photo


def level_address(job_id: int, photo: Photo, plan: str) -> str:
    """Return the address of a photo to scale: another one when its points change."""
    of = hashlib.sha256(photo.model_dump_json().encode()).hexdigest()[:16]
    return f"/jobs/{job_id}/vehicle/photos/{photo.id}/level.webp?plan={plan}&of={of}"
