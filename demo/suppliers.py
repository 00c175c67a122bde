"""The firm of the demo jobs, who it buys from and at what price. All of it is invented."""

from typing import Any

from demo.drawing import Drawing

NORTH, QUAY = "Northgate Supply", "Quay Electrical"
# number, item, supplier, pack, price, stock
_OFFERS = (
    ("NG-1201", "ap-ceiling-wifi6-2x2", NORTH, 1, 144.0, 40),
    ("NG-1205", "ap-ceiling-wifi6-2x2", NORTH, 5, 676.0, 6),
    ("QE-88-1", "ap-ceiling-wifi6-2x2", QUAY, 1, 151.0, None),
    ("NG-1310", "ap-ceiling-wifi6e-4x4", NORTH, 1, 359.0, 9),
    ("NG-2006", "jack-6", NORTH, 10, 31.0, 300),
    ("NG-2016", "jack-6a", NORTH, 10, 52.5, 120),
    ("QE-20-24", "jack-6a", QUAY, 24, 121.0, 80),
    ("QE-61-305", "cat6-indoor", QUAY, 305, 143.0, 22),
    ("NG-6A-305", "cat6a-indoor", NORTH, 305, 209.0, 14),
    ("QE-6A-305", "cat6a-indoor", QUAY, 305, 203.0, 18),
    ("QE-7001", "screw", QUAY, 200, 8.5, None),
    ("QE-7002", "anchor-board", QUAY, 50, 14.0, None),
    ("QE-7003", "anchor-hard", QUAY, 100, 5.2, None),
    ("QE-7120", "cable-support", QUAY, 25, 31.5, 60),
    ("NG-7200", "tie", NORTH, 50, 5.4, None),
    ("QE-7200", "tie", QUAY, 100, 10.2, None),
)


def order(d: Drawing, quote: str, **terms: Any) -> None:
    """Put the firm's terms and its suppliers' offers into a job."""
    rows = [
        {"number": number, "item": item, "supplier": supplier, "pack": pack, "price": price, "stock": stock}
        for number, item, supplier, pack, price, stock in _OFFERS
    ]
    d.add(
        "ordering",
        "Order",
        firm="Marram Network Installers",
        firm_address="3 Quay Row, Saltmere",
        quote_number=quote,
        suppliers=[
            {"name": NORTH, "delivery": 18.0, "free_from": 750.0, "days": 2},
            {"name": QUAY, "delivery": 12.0, "free_from": 300.0, "days": 1},
        ],
        offers=rows,
        **terms,
    )
