"""Random catalogues for exactness and speed: seeded, all values within what data sheets say."""

import numpy as np

from pneumen.core.kit import Item

PATTERNS = ("omni", "subcardioid", "cardioid", "supercardioid", "hypercardioid", "figure-8")


def random_catalogue(seed, size, *, bundles=0):
    """Return a catalogue of about size items: two thirds devices and coverings, the rest small things."""
    rng = np.random.default_rng(seed)
    items = []

    def price(low, high):
        return float(rng.integers(low, high))

    def add(kind, number, **facts):
        items.append(Item(id=f"{kind}-{number}", kind=kind, name=f"{kind} {number}", **facts))

    for number in range(max(1, size * 30 // 100)):
        family = str(rng.choice(["large-condenser", "small-condenser", "dynamic", "ribbon"]))
        weak = family in ("dynamic", "ribbon")
        add(
            "microphone",
            number,
            price=price(20, 300),
            family=family,
            pattern=str(rng.choice(PATTERNS)),
            sensitivity_mv_per_pa=float(rng.uniform(0.8, 3) if weak else rng.uniform(6, 30)),
            self_noise_dba=float(rng.uniform(4, 24)),
            max_spl_db=float(rng.uniform(125, 155)),
            impedance_ohm=float(rng.uniform(50, 500)),
            in_box=tuple(str(one) for one in rng.choice(["stand-clip", "pop-filter", "xlr-cable", "boom-stand"], 1)),
        )
    for number in range(size * 8 // 100):
        add(
            "microphone",
            f"u{number}",
            price=price(30, 200),
            family="usb-condenser",
            pattern=str(rng.choice(PATTERNS[:4])),
            full_scale_db_spl=float(rng.uniform(112, 130)),
            self_noise_dba=float(rng.uniform(10, 24)),
            gain_marking="db",
            gain_max_db=40.0,
            in_box=("stand-clip",),
        )
    for number in range(max(1, size * 16 // 100)):
        add(
            "interface",
            number,
            price=price(40, 400),
            family="numbered",
            gain_min_db=0.0,
            gain_max_db=float(rng.uniform(40, 75)),
            ein_dbu=float(rng.uniform(-132, -122)),
            max_input_dbu=float(rng.uniform(0, 18)),
            input_impedance_ohm=float(rng.uniform(1500, 5000)),
            dynamic_range_db=float(rng.uniform(98, 120)),
            mic_inputs=int(rng.integers(1, 5)),
            instrument_inputs=1,
            instrument_impedance_ohm=1e6,
            line_inputs=int(rng.integers(0, 3)),
            phantom=str(rng.choice(["per-channel", "shared", "none"])),
            phones_plug=str(rng.choice(["3.5 mm", "6.35 mm"])),
            in_box=tuple(str(one) for one in rng.choice(["software", "usb-cable", "headphones"], 1)),
        )
    for number in range(size * 3 // 100):
        add("booster", number, price=price(30, 90), gain_db=float(rng.choice([20, 24, 28])))
    for number in range(size * 5 // 100):
        bands = tuple(float(x) for x in rng.uniform(0.3, 2.5, 6))
        add("covering", number, price=price(10, 60), absorption_m2=bands)
    small = size - len(items) - bundles
    kinds = (
        "boom-stand",
        "pop-filter",
        "stand-clip",
        "xlr-cable",
        "usb-cable",
        "headphones",
        "phones-adapter",
        "software",
        "clamps",
        "pole",
    )
    for number in range(max(len(kinds), small)):
        kind = kinds[number % len(kinds)]
        facts = {
            "boom-stand": {"reach_m": float(rng.uniform(1.65, 2.5))},
            "xlr-cable": {"length_m": float(rng.uniform(3, 10))},
            "headphones": {"phones_plug": "3.5 mm", "closed": True},
            "software": {"systems": ("windows", "mac", "linux"), "tracks": 16},
        }.get(kind, {})
        add(kind, number, price=price(0, 40), **facts)
    leaders = [item for item in items if item.kind in ("microphone", "interface")]
    for number in range(bundles):
        parts = rng.choice(len(leaders), 2, replace=False)
        inside = (*(leaders[part].id for part in parts), "headphones-5")
        whole = sum(item.price for item in items if item.id in inside)
        add("bundle", number, price=round(0.7 * whole), in_box=inside)
    return tuple(items)
