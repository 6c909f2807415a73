"""What the vehicle station shows."""

from __future__ import annotations

import datetime
from functools import cached_property
from typing import Any

from gale_nook.core.edits.command import fresh_id
from gale_nook.core.geometry.frames import Vec3
from gale_nook.core.plan.looked import LookedWhere
from gale_nook.core.plan.photo import Photo
from gale_nook.core.plan.solids import Hollow, PanelOpening
from gale_nook.core.plan.vehicle import Feature, FloorArea, Layer, Shell
from gale_nook.core.quantities.measures import write_quantity
from gale_nook.core.spot.transfer import (
    Matched,
    Transfer,
    transfer_of,
)
from gale_nook.core.vehicle.heights import WORDS as HEIGHT_WORDS
from gale_nook.core.vehicle.looked import looked_share, named_places
from gale_nook.core.vehicle.parts import surveyed_parts
from gale_nook.core.vehicle.photo_scale import PhotoScale, scaled_photos
from gale_nook.drawing.board import LaidPhoto
from gale_nook.exchange.photos import level_area
from gale_nook.web.page import COORDINATES, StationPage
from gale_nook.web.stations.vehicle.pictures import level_address

BOX_EDGES = {"x_mm": "its front edge", "y_mm": "its left side", "z_mm": "its lower face"}
PANEL_FACES = (
    ("front", "front"),
    ("rear", "rear"),
    ("left", "left"),
    ("right", "right"),
    ("up", "top"),
    ("down", "bottom"),
)


AXLES = ("front_axle_x_mm", "rear_axle_x_mm", "wheel_diameter_mm")
ENGINE_BAY = ("firewall_x_mm", "firewall_mm")
SHELL_LABELS = {
    "towed": {
        "front_x_mm": "coupling",
        "bulkhead_x_mm": "front wall",
        "bonnet_z_mm": "drawbar's top",
    },
    "carried": {"front_x_mm": "carrier's nose", "bulkhead_x_mm": "front wall"},
    "afloat": {
        "front_x_mm": "stem",
        "bulkhead_x_mm": "front of the cabin",
        "rear_x_mm": "after end of the cabin",
        "outer_width_mm": "beam",
        "floor_width_mm": "width inside",
        "sill_z_mm": "underside of the sole",
        "ground_z_mm": "hull's bottom",
        "bonnet_z_mm": "foredeck",
    },
}


class VehiclePage(StationPage):
    """What the vehicle station shows."""

    has_style = True
    has_board = True
    board_hint = "click a part to choose it"
    scripts = ("sketch.js", "ticks.js")

    @property
    def shows_looked(self) -> bool:
        return True

    @property
    def focus_points(self) -> tuple[Vec3, ...]:
        shapes = [s for solid, _, s in surveyed_parts(self.job) if solid.id == self.view.item]
        return tuple((b[i], b[i + 1], b[i + 2]) for b in (s.bounds for s in shapes) for i in (0, 3))

    @property
    def exact_addresses(self) -> list[str]:
        """Values that a grip of the board is moved from."""
        solid = self.chosen_solid
        if solid is None or solid.shape not in {"box", "cylinder"}:
            return super().exact_addresses
        here = f"vehicle.solids.{solid.id}"
        return [*super().exact_addresses, *(f"{here}.{leaf}" for leaf in COORDINATES)]

    @property
    def chosen_solid(self) -> Any:
        return next(
            (solid for solid in self.plan.vehicle.solids if solid.id == self.view.item), None
        )

    panel_faces = PANEL_FACES

    @property
    def may_be_hollow(self) -> bool:
        """Whether the chosen part stands inside, and could be furniture."""
        solid = self.chosen_solid
        return solid is not None and self.catalogue.solid_kinds[solid.kind].where == "inside"

    @property
    def grille_kinds(self) -> list[tuple[str, str]]:
        return [
            (kind.id, f"{kind.label}, {100 * kind.open_share:.0f} % open")
            for kind in self.catalogue.air_equipment.grilles
        ]

    def hollow_with(self, panel: str = "", lid: str = "") -> dict[str, Any]:
        """The command that makes the chosen furniture hollow; or puts a panel or lid in or out."""
        solid = self.chosen_solid
        hollow = solid.hollow if solid.hollow is not None else Hollow()
        panels, lids = list(hollow.panels), list(hollow.lids)
        for face, faces in ((panel, panels), (lid, lids)):
            if face:
                faces.remove(face) if face in faces else faces.append(face)
        lids = [face for face in lids if face in panels]
        changed = hollow.model_copy(update={"panels": tuple(panels), "lids": tuple(lids)})
        return {"op": "hollow", "solid": solid.id, "hollow": changed.model_dump(mode="json")}

    @property
    def new_panel_opening(self) -> dict[str, Any]:
        """The command that adds an opening to the chosen furniture's first panel."""
        solid = self.chosen_solid
        hollow = solid.hollow
        face = hollow.panels[0] if hollow.panels else "front"
        item = PanelOpening(id=fresh_id(hollow.openings, "opening"), face=face)
        collection = f"vehicle.solids.{solid.id}.hollow.openings"
        return {"op": "add", "collection": collection, "item": item.model_dump(mode="json")}

    ways_to_move = (
        ("itself", "on its own wheels, driven"),
        ("towed", "on its own wheels, towed"),
        ("carried", "carried, and set down on legs"),
        ("afloat", "afloat"),
    )
    space_kinds = (
        ("bilge", "the bilge"),
        ("petrol", "a petrol space"),
        ("gas", "a gas space"),
        ("engine", "the engine's space"),
        ("battery", "a battery space"),
    )

    @property
    def moves_words(self) -> str:
        """How the body moves, in words."""
        return dict(self.ways_to_move)[self.plan.vehicle.moves]

    @property
    def new_space(self) -> dict[str, Any]:
        """The command that adds a space with a name, under the middle of the floor."""
        spaces, shell = self.plan.vehicle.spaces, self.plan.vehicle.shell
        middle = (shell.bulkhead_x_mm + shell.rear_x_mm) / 2
        item = {
            "id": fresh_id(spaces, "space"),
            "name": f"space {len(spaces) + 1}",
            "from_x_mm": round(middle - 500),
            "to_x_mm": round(middle + 500),
            "left_y_mm": -400,
            "right_y_mm": 400,
            "low_z_mm": round(shell.ground_z_mm),
            "high_z_mm": round(shell.sill_z_mm),
        }
        return {"op": "add", "collection": "vehicle.spaces", "item": item}

    old_kinds = (
        ("flue", "a flue"),
        ("vent", "a vent"),
        ("grommet", "a grommet"),
        ("hatch", "a hatch"),
        ("appliance", "an appliance's opening"),
        ("other", "something else"),
    )
    old_faces = (
        ("floor", "the floor"),
        ("left", "the left side"),
        ("right", "the right side"),
        ("rear", "the rear"),
        ("roof", "the roof"),
        ("bulkhead", "the bulkhead"),
    )
    old_uses = (
        ("open", "open, used by nothing"),
        ("closed", "closed by a plate"),
        ("exhaust", "used for the exhaust"),
        ("intake", "used for the combustion air"),
        ("fuel", "used for the fuel line"),
        ("duct", "used for a duct"),
        ("hose", "used for a hose"),
        ("cable", "used for a cable"),
    )

    @property
    def old_edges(self) -> list[tuple[str, str]]:
        """What an old opening's edge can be of."""
        return [(m.id, m.label) for m in self.catalogue.solid_materials.values()]

    @property
    def new_old_opening(self) -> dict[str, Any]:
        """The command that adds an opening that was there before."""
        openings, shell = self.plan.vehicle.old_openings, self.plan.vehicle.shell
        item = {
            "id": fresh_id(openings, "old"),
            "name": f"old opening {len(openings) + 1}",
            "along_mm": round(shell.bulkhead_x_mm + 800),
            "up_mm": 0,
        }
        return {"op": "add", "collection": "vehicle.old_openings", "item": item}

    @property
    def measured_features(self) -> list[Feature]:
        """Features whose place is known, on one side of the floor or on both."""
        return [f for f in self.plan.vehicle.features if f.inside or f.below]

    def exact_length(self, length_mm: float) -> str:
        """A length as a field shows it."""
        return write_quantity(length_mm, "mm", self.system).replace("−", "-")

    def level_as_taken(self, photo: Photo) -> str:
        """Address of a photo to scale, seen from where it was taken."""
        return level_address(self.job_id, photo, "below" if photo.seen == "below" else "above")

    @property
    def photos(self) -> tuple[LaidPhoto, ...]:
        return tuple(
            LaidPhoto(
                level_address(self.job_id, photo, self.view.plan), level_area(scale, photo).corners
            )
            for photo, scale in scaled_photos(self.plan.vehicle)
            if photo.shown
        )

    @property
    def photo_states(self) -> list[tuple[Photo, str]]:
        """Each photo with how far its scale is."""
        scaled = {photo.id: scale for photo, scale in scaled_photos(self.plan.vehicle)}
        return [
            (photo, self._photo_words(scaled.get(photo.id))) for photo in self.plan.vehicle.photos
        ]

    def _photo_words(self, scale: PhotoScale | None) -> str:
        if scale is None:
            return "not to scale yet"
        worst = self.amount(max(map(scale.error_mm, scale.places)), "mm")
        proved = "" if scale.is_proved else ", no fifth point yet"
        return f"to scale, known to {worst}{proved}"

    @property
    def chosen_pencilled(self) -> list[str]:
        """Pencilled values of the chosen part."""
        solid = self.chosen_solid
        here = f"vehicle.solids.{solid.id}." if solid is not None else "-"
        return [address for address in self.plan.vehicle.pencilled if address.startswith(here)]

    @property
    def dimensions_words(self) -> str:
        """How many of the main dimensions are only assumed."""
        count = len(self.body_pencilled)
        return f"{count} assumed" if count else "all measured"

    @property
    def floor_words(self) -> str:
        """How many floors differ from the load floor."""
        count = len(self.plan.vehicle.floors)
        return "none" if not count else f"{count} besides the load floor"

    @property
    def floor_materials(self) -> list[tuple[str, str]]:
        return [(each.id, each.label) for each in self.catalogue.materials.values()]

    @property
    def new_floor(self) -> dict[str, Any]:
        """The command that adds a floor: the cab's first, as wide as the load floor and as high."""
        vehicle = self.plan.vehicle
        shell, half = vehicle.shell, vehicle.shell.floor_width_mm / 2
        front = shell.floor_front_x_mm
        in_cab = not vehicle.floors and front < shell.bulkhead_x_mm - 1
        ends = (front, shell.bulkhead_x_mm) if in_cab else (shell.bulkhead_x_mm, shell.rear_x_mm)
        area = FloorArea(
            id=fresh_id(vehicle.floors, "floor"),
            name="the cab floor" if in_cab else f"floor {len(vehicle.floors) + 1}",
            from_x_mm=round(ends[0]),
            to_x_mm=round(ends[1] if in_cab else ends[0] + 400),
            left_y_mm=-round(half),
            right_y_mm=round(half),
            layers=vehicle.floor.layers[-1:],
        )
        here = f"vehicle.floors.{area.id}"
        leaves = ("top_z_mm", "from_x_mm", "to_x_mm", "left_y_mm", "right_y_mm")
        layers = [
            f"layers.{layer.id}.{leaf}"
            for layer in area.layers
            for leaf in ("material", "thickness_mm")
        ]
        return {
            "op": "add",
            "collection": "vehicle.floors",
            "item": area.model_dump(mode="json"),
            "pencilled": [f"{here}.{leaf}" for leaf in (*leaves, *layers)],
        }

    def new_layer(self, area: FloorArea) -> dict[str, Any]:
        """The command that puts a layer on top of a floor."""
        layers = self.plan.vehicle.floor.layers
        material = layers[0].material if layers else next(iter(self.catalogue.materials))
        layer = Layer(id=fresh_id(area.layers, "l"), material=material, thickness_mm=6)
        return {
            "op": "add",
            "collection": f"vehicle.floors.{area.id}.layers",
            "item": layer.model_dump(mode="json"),
            "first": True,
        }

    @property
    def slide_words(self) -> str:
        """Where the body slides out."""
        slide = self.plan.vehicle.slide
        if slide is None:
            return "none"
        return "at the rear" if slide.side == "rear" else f"on the {slide.side}"

    def round_choices(self, address: str) -> list[tuple[str, str]]:
        """(id, label) of what a value is chosen from, in the measuring round; none for a length."""
        layer = ".layers." in address
        tables: dict[str, Any] = {
            "material": self.catalogue.materials if layer else self.catalogue.solid_materials,
            "glazing": self.catalogue.glazings,
        }
        table = tables.get(address.rsplit(".", 1)[-1], {})
        return [(each.id, each.label) for each in table.values()]

    def round_text(self, address: str) -> str:
        """What a value is now, in words."""
        labels = dict(self.round_choices(address))
        return labels.get(self.value(address), self.text(address)) if labels else self.text(address)

    def round_words(self, address: str) -> str:
        """What the tape is laid to for a value, in the measuring round."""
        parts = address.split(".")
        if parts[1] == "openings":
            name = next((o.name for o in self.plan.vehicle.openings if o.id == parts[2]), "")
            return f"{name}: {self.words(address)}"
        if parts[1] != "solids":
            return self.words(address)
        if parts[-1].isdigit():
            return f"point {int(parts[-2]) + 1}: {self.words(address)}"
        edge = BOX_EDGES.get(parts[-1], "")
        return f"{edge}, {self.words(address)}" if edge else self.words(address)

    @property
    def assumed_parts(self) -> list[tuple[str, str]]:
        """(address, name) of the parts of which nobody has measured everything yet."""
        start = "vehicle.solids."
        ids = {a.split(".")[2] for a in self.plan.vehicle.pencilled if a.startswith(start)}
        return [(f"{start}{s.id}", s.name) for s in self.plan.vehicle.solids if s.id in ids]

    @property
    def body_pencilled(self) -> list[str]:
        """Pencilled values of main dimensions, floor and openings."""
        others = ("vehicle.solids.", "heat.")
        return [a for a in self.plan.vehicle.pencilled if not a.startswith(others)]

    @property
    def height_words(self) -> str:
        """From what the heights of parts below the floor are measured."""
        return HEIGHT_WORDS[self.plan.settings.heights_below]

    @property
    def looked_shares(self) -> list[tuple[str, int]]:
        """How much of the load floor was looked at, below and inside, in percent."""
        wheres: tuple[LookedWhere, ...] = ("below", "inside")
        return [(where, round(100 * looked_share(self.job, where))) for where in wheres]

    @property
    def named_places(self) -> list[str]:
        return list(named_places(self.plan.vehicle.shell))

    @property
    def today(self) -> str:
        return datetime.datetime.now(tz=datetime.UTC).date().isoformat()

    @property
    def usual_slide(self) -> dict[str, Any]:
        """A slide-out to begin with, in the middle of the left side."""
        shell = self.plan.vehicle.shell
        middle = (shell.bulkhead_x_mm + shell.rear_x_mm) / 2
        return {
            "side": "left",
            "from_mm": round(middle - 600),
            "to_mm": round(middle + 600),
            "inner_mm": 500,
            "travel_mm": 450,
        }

    @cached_property
    def transfer(self) -> Transfer | None:
        return transfer_of(self.plan)

    def feature_off(self, feature_id: str) -> Matched | None:
        """How far a feature is off after the match; None where it is not measured on both sides."""
        matched = self.transfer.matched if self.transfer is not None else ()
        return next((item for item in matched if item.id == feature_id), None)

    @property
    def shell_fields(self) -> tuple[str, ...]:
        """The main dimensions, as they are measured from front to rear and up."""
        left_out = {"afloat": (*AXLES, *ENGINE_BAY), "towed": ENGINE_BAY, "carried": ENGINE_BAY}
        skipped = left_out.get(self.plan.vehicle.moves, ())
        return tuple(leaf for leaf in Shell.model_fields if leaf not in skipped)

    def shell_label(self, leaf: str) -> str:
        """What a main dimension is called on such a body; empty for its usual name."""
        return SHELL_LABELS.get(self.plan.vehicle.moves, {}).get(leaf, "")
