"""Device lists as clients send them, with what each row says in truth: label, kind, count, place, MAC, serial."""

import io
from collections.abc import Sequence
from typing import NamedTuple

from openpyxl import Workbook

from heathrise.exchange.inventory import read_inventory
from heathrise.exchange.rows import table_rows


class Row(NamedTuple):
    label: str
    kind: str | None
    count: int = 1
    place: str = ""
    mac: str = ""
    serial: str = ""


class SentList(NamedTuple):
    name: str
    body: bytes
    rows: Sequence[Row]


def share(sent: SentList) -> float:
    """Return the share of rows that came in right, rows too many counted as wrong."""
    found = [
        Row(r.label, r.device, r.count, r.place, r.mac, r.serial)
        for r in read_inventory(table_rows(sent.body)).rows
    ]
    right = sum(row in found for row in sent.rows)
    return right / max(len(sent.rows), len(found), 1)


def _book(rows: Sequence[Sequence[object]]) -> bytes:
    book, out = Workbook(), io.BytesIO()
    for row in rows:
        book.active.append(list(row))
    book.save(out)
    return out.getvalue()


def tuned() -> list[SentList]:
    """Lists the reader was made with."""
    return [
        SentList(
            "counts with watts beside",
            b"Device,Watts,Qty\nDome camera,12,6\nDesk phone,5,30\nLaptop,,24\nTotal,,60\n",
            [
                Row("Dome camera", "camera", 6),
                Row("Desk phone", "desk-phone", 30),
                Row("Laptop", "laptop", 24),
            ],
        ),
        SentList(
            "one row a device, German, sep line",
            "sep=;\nLfd. Nr.;Gerät;Raum;MAC-Adresse;Seriennummer;VLAN\n1;Deckenkamera Flur;0.01 Flur;0A-00-00-00-00-01;AB 123;30\n2;Drucker;0.02 Büro;0a:00:00:00:00:02;AB124;10\n3;Tischtelefon;0.02 Büro;0a00.0000.0003;AB125;20\n4;Drucker;0.02 Büro;0a:00:00:00:00:02;AB124;10\n".encode(
                "cp1252"
            ),
            [
                Row("Deckenkamera Flur", "camera", 1, "0.01 Flur", "0a:00:00:00:00:01", "AB123"),
                Row("Drucker", "printer", 1, "0.02 Büro", "0a:00:00:00:00:02", "AB124"),
                Row("Tischtelefon", "desk-phone", 1, "0.02 Büro", "0a:00:00:00:00:03", "AB125"),
            ],
        ),
        SentList(
            "workbook with a title, headings between and a sum",
            _book(
                [
                    ["Network devices, draft 3"],
                    [],
                    ["Item", "Location", "How many", "Power (W)"],
                    ["Cameras"],
                    ["Dome outside", "Yard", 4, 13],
                    ["Dome inside", "Hall", 2, 9],
                    ["Phones"],
                    ["Handset", "Office", 5, 4],
                    ["Sum", None, 11, None],
                ]
            ),
            [
                Row("Dome outside", "camera", 4, "Yard"),
                Row("Dome inside", "camera", 2, "Hall"),
                Row("Handset", "phone", 5, "Office"),
            ],
        ),
        SentList(
            "pasted, no heading",
            b"3 x Laptop\tOffice\n2 x Network printer\tCopy room\n1 x NAS\tServer room\n",
            [Row("Laptop", "laptop", 3), Row("Network printer", "printer", 2), Row("NAS", "storage", 1)],
        ),
        SentList(
            "French, units in the count",
            "Désignation;Quantité;Salle\nCaméra dôme;4 pcs;Couloir\nImprimante;1 pcs;Bureau 2\nTéléviseur;2 pcs;Accueil\n".encode(),
            [
                Row("Caméra dôme", "camera", 4, "Couloir"),
                Row("Imprimante", "printer", 1, "Bureau 2"),
                Row("Téléviseur", "television", 2, "Accueil"),
            ],
        ),
        SentList(
            "names that tell nothing, kinds in a column",
            b"Name,Type,Room,IP\nCAM-01,Camera,Hall,10.0.0.1\nPRN-1,Printer,Office,10.0.0.2\nPC-7,Desktop,Office,10.0.0.3\n",
            [
                Row("CAM-01", "camera", 1, "Hall"),
                Row("PRN-1", "printer", 1, "Office"),
                Row("PC-7", "desktop", 1, "Office"),
            ],
        ),
    ]


def unseen() -> list[SentList]:
    """Lists that were only scored."""
    return [
        SentList(
            "Spanish workbook, empty columns, subtotals",
            _book(
                [
                    ["Listado de equipos"],
                    ["Fecha", "2026-03-01"],
                    [],
                    [None, "Equipo", "Cant.", "Consumo W", "Estancia"],
                    [None, "Cámara interior", 3, 8, "Pasillo"],
                    [None, "Impresora", 1, 300, "Despacho"],
                    [None, "Subtotal", 4, None, None],
                    [None, "Portátil", 12, 65, "Aula 1"],
                    [None, "Proyector", 1, 250, "Aula 1"],
                ]
            ),
            [
                Row("Cámara interior", "camera", 3, "Pasillo"),
                Row("Impresora", "printer", 1, "Despacho"),
                Row("Portátil", "laptop", 12, "Aula 1"),
                Row("Proyector", "projector", 1, "Aula 1"),
            ],
        ),
        SentList(
            "one row a device, Dutch, tabs, serial numbers that look like counts",
            b"Nr\tApparaat\tRuimte\tSerienummer\tOpmerking\n1\tCamera 1\tGang\t100200\tplafond\n2\tCamera 2\tGang\t100201\tplafond\n3\tPrinter\tKantoor\t100300\t\n4\tDeurbel\tEntree\t100400\tbuiten\n",
            [
                Row("Camera 1", "camera", 1, "Gang", "", "100200"),
                Row("Camera 2", "camera", 1, "Gang", "", "100201"),
                Row("Printer", "printer", 1, "Kantoor", "", "100300"),
                Row("Deurbel", "door-station", 1, "Entree", "", "100400"),
            ],
        ),
        SentList(
            "pipes, quantities first, blank and short rows",
            b"Quantity|Description|Remarks\n\n10|Laptops|\n4|CCTV cameras|outside\n2|Smart TVs\n1|Alarm panel|by the door\n||\n",
            [
                Row("Laptops", "laptop", 10),
                Row("CCTV cameras", "camera", 4),
                Row("Smart TVs", "television", 2),
                Row("Alarm panel", "alarm-panel", 1),
            ],
        ),
        SentList(
            "Polish, semicolons, code page, decimal counts",
            "Nazwa;Ilość;Moc W;Pomieszczenie\nKamera kopułkowa;6,0;12,5;Korytarz\nDrukarka sieciowa;2,0;300;Biuro\nTelefon;8,0;4;Biuro\nRazem;16,0;;\n".encode(
                "cp1250"
            ),
            [
                Row("Kamera kopułkowa", "camera", 6, "Korytarz"),
                Row("Drukarka sieciowa", "printer", 2, "Biuro"),
                Row("Telefon", "desk-phone", 8, "Biuro"),
            ],
        ),
        SentList(
            "hosts by name with MAC, kinds in another column, twice the same unit",
            b"Hostname,MAC Address,Category,Location,Serial No\nhall-cam-1,0A0000000011,IP camera,Hall,SN-1\nhall-cam-2,0A0000000012,IP camera,Hall,SN-2\nreception-prn,0A0000000013,Printer,Reception,SN-3\nhall-cam-2,0A0000000012,IP camera,Hall,SN-2\nlab-ap,0A0000000014,Sensor,Lab 2,SN-4\n",
            [
                Row("hall-cam-1", "camera", 1, "Hall", "0a:00:00:00:00:11", "SN-1"),
                Row("hall-cam-2", "camera", 1, "Hall", "0a:00:00:00:00:12", "SN-2"),
                Row("reception-prn", "printer", 1, "Reception", "0a:00:00:00:00:13", "SN-3"),
                Row("lab-ap", "sensor", 1, "Lab 2", "0a:00:00:00:00:14", "SN-4"),
            ],
        ),
        SentList(
            "rooms as headings, Swedish",
            "Enhet;Antal\nKlassrum 1\nProjektor;1\nBärbar dator;24\nPersonalrum\nSkrivare;1\nTelefon;2\nSumma;28\n".encode(),
            [
                Row("Projektor", "projector", 1, "Klassrum 1"),
                Row("Bärbar dator", "laptop", 24, "Klassrum 1"),
                Row("Skrivare", "printer", 1, "Personalrum"),
                Row("Telefon", "desk-phone", 2, "Personalrum"),
            ],
        ),
        SentList(
            "kit of a shop, prices",
            b"Pos;Article;Pieces;Unit price;Total price\n10;Payment terminal;3;219,00;657,00\n20;Handheld scanner;5;180,00;900,00\n30;Ceiling speaker;8;45,50;364,00\n",
            [
                Row("Payment terminal", "till", 3),
                Row("Handheld scanner", "scanner", 5),
                Row("Ceiling speaker", "speaker", 8),
            ],
        ),
    ]


def main() -> None:
    """Print the share of rows right of every list."""
    for name, sets in (("tuned", tuned()), ("unseen", unseen())):
        shares = [share(sent) for sent in sets]
        for sent, right in zip(sets, shares, strict=True):
            print(f"{'ok' if right == 1 else '--'} {sent.name}: {right:.0%}")
            if right < 1:
                read = read_inventory(table_rows(sent.body))
                print(
                    "   ",
                    [(r.label, r.device, r.count, r.place, r.mac, r.serial) for r in read.rows],
                    read.columns,
                    [s.why for s in read.skipped],
                )
        rows = sum(len(s.rows) for s in sets)
        print(f"{name}: {sum(share(s) * len(s.rows) for s in sets) / rows:.0%} of {rows} rows right")


if __name__ == "__main__":
    main()
