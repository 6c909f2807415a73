"""A sample of every command, each of which changes the plan that is made here."""

from __future__ import annotations

from gale_nook.catalogue.load import load_catalogue
from gale_nook.core.air.commands import (
    AddDuctBend,
    AddDuctPart,
    AddReturn,
    AddWanted,
    AddZone,
    PutDuctParts,
    RemoveDuct,
    SetEnd,
    StartDuct,
    StartReturn,
    TakeDucts,
    TakeTree,
)
from gale_nook.core.apply import apply
from gale_nook.core.book.commands import TakeBook
from gale_nook.core.build.commands import (
    AddCardPhoto,
    NoteBuilt,
    NoteCut,
    TakeCards,
    TakeStock,
    TickCard,
)
from gale_nook.core.coolant.commands import (
    AddHose,
    AddHoseBend,
    AddHosePart,
    AddLoopPart,
    BranchOff,
    LayHose,
    MixFloors,
    MoveLoopPart,
    PutHoseParts,
    SplitHose,
    TakeOutPart,
    TurnLoopPart,
)
from gale_nook.core.edits.acceptances import Accept, Withdraw
from gale_nook.core.edits.command import Command
from gale_nook.core.edits.items import RemoveItem
from gale_nook.core.edits.values import set_value
from gale_nook.core.firing.commands import (
    AddCo,
    AddControllerCard,
    ClearReadings,
    StartSurvey,
    TakeTrace,
    TickCheck,
)
from gale_nook.core.fuel.commands import PutLine, ReverseLine, SetProfile, SetSource, StartLine
from gale_nook.core.fuel.items import AddBend, AddHoldsTank, AddIndent, AddLinePart
from gale_nook.core.heat.commands import AddLayer, AddTimer, SetClimate, SetLayers
from gale_nook.core.heater.commands import (
    AddUnit,
    ChooseHeater,
    DropOwnLimit,
    DropSheet,
    PutSheet,
    SetOwnLimit,
    SetUnitPipe,
)
from gale_nook.core.log.commands import TakeLearned
from gale_nook.core.pipes.commands import (
    AddCorner,
    AddFitting,
    PutFittings,
    RemoveRun,
    ReverseRun,
    SetEdges,
    StartRun,
    TakeRun,
)
from gale_nook.core.plan.air import Air, Duct, DuctPart, ReturnOpening, WantedOutlet, Zone
from gale_nook.core.plan.book import BookPrice, PlanBook
from gale_nook.core.plan.build import CardPhoto, StockLine
from gale_nook.core.plan.climate import climate_of
from gale_nook.core.plan.coolant import Hose, HosePart, LoopPart
from gale_nook.core.plan.document import Plan
from gale_nook.core.plan.firing import ControllerCard, CoReading, PlaceReading, Trace
from gale_nook.core.plan.fuel import Fuel, HoldsTank, Indent, LinePart
from gale_nook.core.plan.heat import Learned, Timer
from gale_nook.core.plan.heater import OtherUnit, OwnLimit
from gale_nook.core.plan.looked import LookedArea
from gale_nook.core.plan.moves import SlideOut, Space
from gale_nook.core.plan.old import OldOpening
from gale_nook.core.plan.photo import Photo, PhotoPoint
from gale_nook.core.plan.pipes import Fitting, Route, RouteNode
from gale_nook.core.plan.power import Alarm, ChargeSource, LeadPart, OtherLoad
from gale_nook.core.plan.settings import Acceptance
from gale_nook.core.plan.solids import BoxSolid, Hollow, PanelOpening
from gale_nook.core.plan.spot import Candidate, Pilot, Spot
from gale_nook.core.plan.vehicle import Face, Feature, FloorArea, Layer, Opening, PopTop
from gale_nook.core.plan.wishes import PartWish, Weights, WishArea, Wishes
from gale_nook.core.planner.commands import (
    AddPartWish,
    AddWishArea,
    SetPinned,
    SetSources,
    SetWeights,
    TakeLayout,
    TakeWishes,
)
from gale_nook.core.power.commands import (
    AddAlarm,
    AddCharging,
    AddLeadBend,
    AddLeadPart,
    AddLoad,
    HangController,
    KeepLead,
    PutLeadParts,
    RemoveLead,
    SetDisconnect,
    StartBattery,
    StartController,
    StartLead,
)
from gale_nook.core.spot.commands import (
    AddCandidate,
    AddPilot,
    FeatureBelow,
    PlaceHeater,
    TakeBelow,
    UseOpening,
)
from gale_nook.core.vehicle.commands import (
    AddFeature,
    AddFloor,
    AddLookedArea,
    AddOldOpening,
    AddOpening,
    AddPanelOpening,
    AddPhoto,
    AddSolid,
    AddSpace,
    Confirm,
    HasNone,
    Ink,
    MoveDatum,
    SetFeature,
    SetHollow,
    SetPhotoPoints,
    SetPoints,
    SetPopTop,
    SetSlide,
    ShiftBelow,
    TakeSurvey,
)
from gale_nook.core.vehicle.several import (
    AddParts,
    InkParts,
    MoveParts,
    RemoveParts,
    SetMaterial,
)
from gale_nook.demo.load import demo_plan

LOCKER = BoxSolid(
    id="locker-9",
    name="locker",
    kind="furniture",
    x_mm=500,
    y_mm=0,
    z_mm=40,
    length_mm=300,
    width_mm=300,
    height_mm=300,
)
ACCEPTANCE = Acceptance(
    id="a-9",
    rule="spot.stack",
    subject="turret",
    reason="packed by hand",
    by="Ina",
    on="2026-01-02",
)
WINDOW = Opening(
    id="window-9",
    name="window",
    kind="window",
    face=Face.LEFT,
    start_mm=900,
    base_mm=900,
    length_mm=500,
    height_mm=400,
    glazing="double-acrylic",
)


CAB_FLOOR = FloorArea(
    id="cab",
    name="cab floor",
    from_x_mm=-600,
    to_x_mm=100,
    left_y_mm=-800,
    right_y_mm=800,
    layers=(),
)
PHOTO = Photo(id="photo-1", name="from below", file="a" * 64, width_px=800, height_px=600)
PENCILLED = ("vehicle.shell.sill_z_mm", "vehicle.solids.tank.z_mm")
AREA = LookedArea(id="area-9", from_x_mm=0, to_x_mm=900, left_y_mm=-300, right_y_mm=300)


HATCH = Feature(
    id="hatch",
    name="old hatch",
    kind="hole",
    inside=(1500.0, 0.0),
    length_mm=200,
    width_mm=160,
)


def sample_plan() -> Plan:
    """Heron with a heater and a limit of one's own, a tank of one's own, a photo, and two values
    that nobody has measured.
    """
    book, plan = load_catalogue(), demo_plan("heron")
    own = book.heaters["bothy-22"].model_copy(update={"id": "own", "label": "my own"})
    limit = OwnLimit(id="side_gap_mm", minimum=20, note="sheet of the heater in hand, page 4")
    for command in (
        PutSheet(sheet=own),
        SetOwnLimit(limit=limit),
        SetSource(source="tank-outside"),
        set_value("power.battery.x_mm", 700.0),
        AddUnit(item=OtherUnit(id="unit")),
    ):
        plan = apply(plan, command, book)
    features = (*plan.vehicle.features, HATCH)
    surveyed = {"pencilled": PENCILLED, "photos": (PHOTO,), "features": features}
    vehicle = plan.vehicle.model_copy(update=surveyed)
    air = plan.air.model_copy(update={"ducts": (*_without_galleys_end(plan), SPUR)})
    loop = demo_plan("teal").coolant  # there though it is not used: edits of it stand by themselves
    bent = loop.hoses[1].model_copy(update={"nodes": (), "parts": ()})
    loop = loop.model_copy(update={"hoses": (loop.hoses[0], bent, *loop.hoses[2:])})
    read = plan.firing.model_copy(update={"code": "E 10"})
    changes = {"vehicle": vehicle, "air": air, "coolant": loop, "firing": read}
    return plan.model_copy(update=changes)


TRACE = Trace(
    source="logger",
    at_s=(0.0, 10.0, 70.0),
    phase=("check", "glow", "flame"),
    voltage_v=(13.2, 12.7, None),
    current_a=(0.7, 10.1, 10.4),
    pump_hz=(0.0, 0.0, 0.9),
    outlet_c=(10.0, 10.0, 16.0),
    smoke=("none", "none", "some"),
)


SPUR = Duct(
    id="spur",
    comes_from="galley",
    nodes=(RouteNode(id="n1", x_mm=1150, y_mm=-200, z_mm=117),),
    splitter="y-even",
)


def _without_galleys_end(plan: Plan) -> tuple[Duct, ...]:
    """The ducts, that to the galley going on."""
    return tuple(
        duct.model_copy(update={"outlet": None}) if duct.id == "galley" else duct
        for duct in plan.air.ducts
    )


SPACE = Space(
    id="new-space",
    name="bilge",
    from_x_mm=0,
    to_x_mm=100,
    left_y_mm=0,
    right_y_mm=100,
    low_z_mm=-300,
    high_z_mm=-200,
)


SAMPLES: tuple[Command, ...] = (
    set_value("vehicle.shell.rear_x_mm", 4400),
    set_value("vehicle.solids.tank.name", "main tank"),
    set_value("vehicle.solids.brake-left.points.1.2", -84),
    set_value("heat.surfaces.roof.layers.l2.thickness_mm", 60),
    set_value("heat.cab_c", None),
    set_value("spot.yaw_deg", 90),
    set_value("pipes.exhaust.nodes.n-2.drain", True),
    AddSolid(item=LOCKER),
    RemoveItem(collection="vehicle.solids", item_id="spare"),
    RemoveItem(collection="pipes.exhaust.nodes", item_id="n-2"),
    SetPoints(item_id="fuel-line", points=((0, 0, -90), (500, 0, -95), (900, 40, -95))),
    SetLayers(faces=("roof", "left"), layers=(Layer(id="l1", material="canvas", thickness_mm=1),)),
    AddCandidate(
        item=Candidate(id="spot-1", name="under the bench", spot=Spot(x_mm=900, y_mm=0)),
    ),
    AddPilot(item=Pilot(id="pilot-1", hole="turret hole", x_mm=2760, y_mm=-286)),
    TakeSurvey(solids=(LOCKER,)),
    SetFeature(feature_id="feature-5", side="inside", at=(2050, -400)),
    TakeBelow(features=(FeatureBelow(id="feature-2", at=(3120, -600)),), note="bracket bent"),
    ShiftBelow(rearward_mm=4, right_mm=-3),
    PlaceHeater(x_mm=2000, y_mm=100, yaw_deg=90),
    UseOpening(opening="hatch"),
    ChooseHeater(sheet="croft-52"),
    ChooseHeater(sheet="byre-50", reason="in stock", instead_of="bothy-40"),
    PutSheet(sheet=load_catalogue().heaters["bothy-22"].model_copy(update={"id": "mine"})),
    SetPopTop(pop_top=PopTop(start_mm=500, length_mm=1900, width_mm=1300, rise_mm=500)),
    AddTimer(item=Timer(id="timer-1", from_h=0, to_h=6)),
    RemoveRun(tube="exhaust"),
    RemoveRun(tube="intake"),
    StartRun(tube="exhaust"),
    StartRun(tube="intake"),
    TakeRun(
        tube="exhaust", route=Route(nodes=(RouteNode(id="n-1", x_mm=2800, y_mm=880, z_mm=-300),))
    ),
    PutFittings(
        tube="exhaust", kind="joint", fittings=(Fitting(id="joint-7", kind="joint", at_mm=600),)
    ),
    AddFitting(collection="pipes.intake.fittings", item=Fitting(id="cap-1", kind="cap", at_mm=300)),
    SetEdges(edges=("rear",)),
    SetSource(source="take-off"),
    PutLine(line=None),
    AddLinePart(item=LinePart(id="joint-9", kind="joint", at_mm=300)),
    set_value("fuel.line.pump.tilt_deg", 60),
    set_value("fuel.tap_x_mm", None),
    SetOwnLimit(
        limit=OwnLimit(id="outlet_gap_mm", minimum=340, note="sheet of the heater in hand, page 4")
    ),
    Accept(acceptance=ACCEPTANCE),
    Withdraw(rule="air.first_straight", subject="-"),
    AddDuctBend(
        collection="air.ducts.galley.nodes",
        item=RouteNode(id="n9", x_mm=2000, y_mm=-520, z_mm=117),
        first=True,
    ),
    AddDuctPart(collection="air.ducts.rise.parts", item=DuctPart(id="clip-9", kind="clip")),
    AddReturn(item=ReturnOpening(id="opening-9", name="slot", x_mm=3000, y_mm=0, z_mm=100)),
    AddZone(
        item=Zone(
            id="cab-9",
            name="cab",
            kind="cab",
            from_x_mm=-1400,
            to_x_mm=100,
            left_y_mm=-800,
            right_y_mm=800,
        )
    ),
    StartDuct(comes_from="spur", leg="branch"),
    TakeDucts(ducts=()),
    TakeTree(ducts=()),
    AddWanted(item=WantedOutlet(id="outlet-9", x_mm=1500, y_mm=0, z_mm=160)),
    AddPartWish(item=PartWish(id="wish-9", part="bed")),
    AddWishArea(
        item=WishArea(id="area-9", from_x_mm=100, to_x_mm=900, left_y_mm=-300, right_y_mm=300)
    ),
    AddWishArea(
        item=WishArea(
            id="area-10",
            wanted=False,
            of="everything",
            from_x_mm=900,
            to_x_mm=1500,
            left_y_mm=0,
            right_y_mm=300,
        )
    ),
    SetPinned(pinned=("spot",)),
    SetSources(sources=("tank-inside",)),
    SetWeights(weights=Weights(quiet=9)),
    SetWeights(weights=Weights(cost=0, hours=10)),
    TakeWishes(name="quiet", wishes=Wishes(side="left")),
    TakeBook(book=PlanBook(edit=3, prices=(BookPrice(id="silencer", price=38, source="list"),))),
    TakeLayout(name="layout A", air=Air(), fuel=Fuel()),
    RemoveDuct(duct="bed"),
    SetEnd(duct="galley", splitter="y-even"),
    PutDuctParts(duct="galley", kind="panel", parts=()),
    StartReturn(),
    SetHollow(solid="bench", hollow=Hollow()),
    AddPanelOpening(
        collection="vehicle.solids.locker.hollow.openings", item=PanelOpening(id="opening-9")
    ),
    Ink(addresses=PENCILLED),
    Confirm(address="vehicle.shell.inside_height_mm"),
    HasNone(kind="vehicle-exhaust"),
    AddLookedArea(item=AREA),
    MoveDatum(name="B post", by_mm=400),
    AddOpening(item=WINDOW),
    AddFeature(item=Feature(id="feature-99", name="earth bolt", kind="bolt")),
    SetSlide(slide=SlideOut(from_mm=1200, to_mm=2400, inner_mm=500, travel_mm=450)),
    AddLayer(
        collection="heat.surfaces.roof.layers",
        item=Layer(id="l-9", material="canvas", thickness_mm=1),
        after="l1",
    ),
    SetClimate(climate=climate_of("Farness", "made up", {(1, -5): 40, (1, -4): 60})),
    DropSheet(sheet_id="own"),
    DropOwnLimit(limit_id="side_gap_mm"),
    AddCorner(
        collection="pipes.exhaust.nodes",
        item=RouteNode(id="n-9", x_mm=2790, y_mm=400, z_mm=-200),
        after="n-2",
    ),
    ReverseRun(tube="exhaust"),
    AddBend(item=RouteNode(id="n-9", x_mm=2000, y_mm=-500, z_mm=-120), first=True),
    SetProfile(corners=((0, 0), (220, 0), (220, 170), (0, 170))),
    StartLine(),
    ReverseLine(),
    AddFloor(item=CAB_FLOOR, pencilled=("vehicle.floors.cab.top_z_mm",)),
    AddPhoto(item=PHOTO.model_copy(update={"id": "photo-9"})),
    SetPhotoPoints(
        photo="photo-1",
        seen="inside",
        points=(PhotoPoint(id="p1", at_px=(40, 30), place_mm=(900, 10)),),
    ),
    AddParts(items=(LOCKER.model_copy(update={"id": "locker-9"}),)),
    RemoveParts(parts=("spare", "tank")),
    MoveParts(parts=("tank", "spare"), rearward_mm=20, up_mm=-5),
    SetMaterial(parts=("tank",), material="aluminium"),
    InkParts(parts=("tank",)),
    AddLeadBend(
        collection="power.leads.supply.nodes",
        item=RouteNode(id="n9", x_mm=2000, y_mm=-820, z_mm=200),
        first=True,
    ),
    AddLeadPart(
        collection="power.leads.pump.parts", item=LeadPart(id="joint-9", kind="joint", at_mm=400)
    ),
    AddAlarm(item=Alarm(id="co-9", x_mm=2000, y_mm=0, z_mm=900)),
    AddLoad(item=OtherLoad(id="load-9", name="heated blanket", charge_ah=9)),
    AddCharging(item=ChargeSource(id="sun-9", name="panel", kind="sun")),
    StartBattery(),
    StartController(),
    HangController(x_mm=1500, y_mm=300, z_mm=1100),
    StartLead(lead="pump", wall="right"),
    KeepLead(lead="supply", laid_from=(700, -640, 420), laid_to=(2973, -286, 139)),
    RemoveLead(lead="controller"),
    PutLeadParts(lead="supply", kind="clip", parts=()),
    SetDisconnect(disconnect=None),
    AddLoopPart(item=LoopPart(id="rail-9", name="rail", kind="rail", x_mm=2000, y_mm=0, z_mm=500)),
    AddHose(
        item=Hose(
            id="hose-99", from_part="bypass", from_end="in", to_part="convector-1", to_end="in"
        )
    ),
    AddHoseBend(
        collection="coolant.hoses.hose-1.nodes",
        item=RouteNode(id="n9", x_mm=2600, y_mm=400, z_mm=300),
        first=True,
    ),
    AddHosePart(
        collection="coolant.hoses.hose-1.parts", item=HosePart(id="clip-99", kind="clip", at_mm=90)
    ),
    LayHose(hose="hose-3"),
    PutHoseParts(hose="hose-2", kind="clip", parts=()),
    SplitHose(hose="hose-1", at_mm=120, kind="bleed"),
    AddOldOpening(item=OldOpening(id="old", name="old flue", along_mm=900, up_mm=0)),
    AddSpace(item=SPACE),
    AddIndent(item=Indent(id="new-dent", x_mm=40, y_mm=10, length_mm=30, width_mm=40, depth_mm=5)),
    AddUnit(item=OtherUnit(id="new-unit")),
    SetUnitPipe(unit="unit", pipe="exhaust", points=((0, 0, 0), (0, 0, -200))),
    AddHoldsTank(item=HoldsTank(id="new-strap", name="strap", x_mm=900, y_mm=0)),
    MixFloors(),
    TakeOutPart(part="bypass"),
    TurnLoopPart(part="bypass"),
    BranchOff(hose="hose-1", back="hose-2", kind="rail"),
    MoveLoopPart(part="bypass", x_mm=2500, y_mm=300, z_mm=260),
    TickCard(card="pilot", note="a rib lies 20 mm further back"),
    NoteBuilt(address="spot.x_mm", value=2764),
    NoteCut(piece="exhaust-1", length_mm=1250),
    TakeCards(
        ticks=(TickCard(card="bench"),),
        built=(NoteBuilt(address="spot.y_mm", value=-284),),
        cuts=(NoteCut(piece="intake", length_mm=271),),
    ),
    TakeStock(lines=(StockLine(id="pipe-clip", have=6, price=1.9),)),
    AddCardPhoto(item=CardPhoto(id="photo-9", card="lay-line", file="a" * 64)),
    TakeLearned(learned=Learned(loss=1.1, consumption=1.05, nights=12)),
    AddControllerCard(item=ControllerCard(id="use-9", title="burn-off", text="at full")),
    AddCo(item=CoReading(id="co-reading-9", name="at the sleeper's head", co_ppm=3)),
    TickCheck(check="outdoors"),
    StartSurvey(places=(PlaceReading(id="tank", name="fuel tank"),)),
    TakeTrace(trace=TRACE, code="low voltage", co_ppm=12),
    ClearReadings(),
)
