"""What a vehicle cannot be."""

from __future__ import annotations

from collections.abc import Iterator

from weighty_axle.job.checks.problem import Problem
from weighty_axle.job.models.vehicle import WAY_ENDS, Vehicle


def vehicle_problems(vehicle: Vehicle) -> Iterator[Problem]:
    """Axles, heights, bays and wire ways that cannot be."""
    groups = {group: [axle for axle in vehicle.axles if axle.group == group] for group in ("front", "rear")}
    for group, axles in groups.items():
        if not axles:
            yield Problem("vehicle.axles", f"No axle or coupling stands in the {group} group.")
        elif abs(sum(axle.share for axle in axles) - 1) > 1e-6:
            yield Problem("vehicle.axles", f"The shares of the {group} group must add up to 100 %.")
    if groups["front"] and groups["rear"]:
        front = max(axle.x_m for axle in groups["front"])
        rear = min(axle.x_m for axle in groups["rear"])
        if front >= rear:
            yield Problem(
                "vehicle.axles", "Every front axle must stand ahead of every rear axle (wheel base of zero or less)."
            )
    for axle in vehicle.axles:
        if axle.weighed_left_kg is not None and axle.weighed_left_kg > axle.weighed_kg:
            yield Problem(
                f"vehicle.axles[{axle.tag}].weighed_left_kg", f"The left wheels of {axle.tag} carry part of it."
            )
    if not vehicle.skirt_m < vehicle.floor_m < vehicle.roof_m:
        yield Problem("vehicle.floor_m", "The heights must rise from skirt to floor to roof.")
    for bay in vehicle.bays:
        if bay.start_m >= bay.end_m or bay.bottom_m >= bay.top_m:
            yield Problem(f"vehicle.bays[{bay.tag}]", f"{bay.name} ends before it starts.")
        if bay.air is not None and bay.air.off_c >= bay.air.on_c:
            yield Problem(
                f"vehicle.bays[{bay.tag}].air.off_c", "A fan goes off at a lower temperature than it comes on at."
            )
    ends = {bay.tag for bay in vehicle.bays} | set(WAY_ENDS)
    for way in vehicle.ways:
        for end in {way.start, way.end} - ends:
            yield Problem(f"vehicle.ways[{way.tag}]", f"There is no bay {end}; a way runs between bays, ROOF and CAB.")
