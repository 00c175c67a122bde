"""What a firm decides of the order: from whom at what price, its own rates, who comes for how long."""

from datetime import date
from typing import Annotated, Literal

from pydantic import Field, StringConstraints, model_validator

from heathrise.core.job.element import About, Code, ElementBase, FormField, Label, Words
from heathrise.core.sums import Noun

ArticleNumber = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)]
Money = Annotated[float, Field(ge=0, le=10_000_000)]


class Supplier(Noun):
    """Who sells: what a delivery costs, from which sum on it is free (None: never), how long it takes."""

    name: Label
    delivery: Money = 0.0
    free_from: Money | None = None
    days: int = Field(2, ge=0, le=365)


class SupplierOffer(Noun):
    """What a supplier asks for a pack of an item, under a number of its own.

    `item` is the code the kit list has, `pack` how many pieces (or metres) it holds, `stock` how many packs lie there
    (None: not said).
    """

    number: ArticleNumber
    item: Code
    supplier: Label
    pack: int = Field(1, ge=1, le=100_000)
    price: Money
    stock: int | None = Field(None, ge=0, le=10_000_000)


class OwnRate(Noun):
    """How long a task takes this firm, in place of the library's figure. [h]"""

    task: Code
    hours: float = Field(ge=0, le=1000)


class Extra(Noun):
    """A line of the order that no drawing shows: skips, parking, a day's lift."""

    what: Label
    count: float = Field(1, gt=0, le=100_000)
    price: Money | None = None
    note: Words = ""


class Ordering(ElementBase):
    """What the firm decides of the order and of the days it comes: prices are before tax.

    `hardships` are names of the library's difficulties that hold for the whole job.
    """

    ROWS = {"suppliers": "name", "offers": "number", "rates": "task", "extras": "what"}
    ABOUT = About(
        noun="order",
        stem="Order",
        stage="order",
        sign="account",
        placed="none",
        single=True,
        listed=False,
        fields=(
            FormField(path="firm", label="Firm"),
            FormField(path="firm_address", label="Its address"),
            FormField(path="quote_number", label="Quote number"),
            FormField(path="valid_days", label="Valid", unit="days"),
            FormField(path="tax_percent", label="Tax", unit="%"),
            FormField(path="margin_percent", label="Added to kit", unit="%"),
            FormField(path="labour_per_h", label="Price of an hour"),
            FormField(path="crew", label="People"),
            FormField(path="day_h", label="Hours a day", unit="h"),
            FormField(path="begins", label="Begins on"),
        ),
    )
    kind: Literal["ordering"] = "ordering"
    firm: Annotated[str, StringConstraints(strip_whitespace=True, max_length=80)] = ""
    firm_address: Words = ""
    quote_number: Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)] = ""
    valid_days: int = Field(30, ge=1, le=365)
    tax_percent: float = Field(20.0, ge=0, le=60)
    margin_percent: float = Field(0.0, ge=0, le=200)
    labour_per_h: Money = 45.0
    crew: int = Field(2, ge=1, le=20)
    day_h: float = Field(8.0, ge=1, le=14)
    begins: date | None = None
    hardships: tuple[Code, ...] = Field((), max_length=20)
    suppliers: tuple[Supplier, ...] = Field((), max_length=50)
    offers: tuple[SupplierOffer, ...] = Field((), max_length=5000)
    rates: tuple[OwnRate, ...] = Field((), max_length=100)
    extras: tuple[Extra, ...] = Field((), max_length=200)

    @model_validator(mode="after")
    def _told_apart(self) -> "Ordering":
        for rows, name in ((self.offers, "number"), (self.suppliers, "name"), (self.rates, "task")):
            keys = [getattr(row, name) for row in rows]
            if len(set(keys)) < len(keys):
                twice = next(key for n, key in enumerate(keys) if key in keys[:n])
                raise ValueError(f"{twice} stands twice; rows are told apart by their {name}")
        return self
