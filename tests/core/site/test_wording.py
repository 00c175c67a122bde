"""Words on drawings: lengths, names, titles, scales, each as some hand writes it."""

import pytest

from heathrise.core.site.wording import length_of, paper_of, printed_scales, room_words, title_of


@pytest.mark.parametrize(
    ("words", "metres"),
    [
        ("3.60", 3.6),
        ("3,60", 3.6),
        ("3600", 3.6),
        ("12 500", 12.5),
        ("3.60 m", 3.6),
        ("360 cm", 3.6),
        ("3600 mm", 3.6),
        ("11'-6\"", 3.5052),
        ("11' 6 1/2\"", 3.5179),
        ("12'", 3.6576),
        ("9″", 0.2286),
    ],
)
def test_a_length_in_the_likelier_of_its_units(words, metres):
    found = length_of(words)
    assert found.number * found.units_m[0] == pytest.approx(metres, abs=0.0005)


@pytest.mark.parametrize(
    "words", ["Office", "0.05", "A-102", "1:100", "", "12b", "0.14 Office", "2024-03-01"]
)
def test_what_is_no_length(words):
    assert length_of(words) is None


@pytest.mark.parametrize(
    ("texts", "label", "area"),
    [
        (["0.14 Office 12 m²"], "0.14 Office", 12.0),
        (["0.14", "Büro", "F: 12,50 m2"], "0.14 Büro", 12.5),
        (["Bureau", "0.14", "S = 12.5 m²", "HSP 2.50"], "0.14 Bureau", 12.5),
        (["Kitchen", "130 sq ft"], "Kitchen", 12.08),
        (["Classroom 3"], "Classroom 3", None),
        (["R-012: Store"], "R-012 Store", None),
        (["+0.00", "RH 2,70", "Empfang"], "Empfang", None),
        (["Salle", "de réunion"], "Salle de réunion", None),
        (["0.06Laboratory"], "0.06 Laboratory", None),
        (["3600"], "", None),
        ([], "", None),
    ],
)
def test_number_name_and_area_are_parted(texts, label, area):
    found = room_words(texts)
    assert found.label == label
    assert found.area_m2 == (None if area is None else pytest.approx(area, abs=0.01))


def test_a_word_for_rooms_is_surer_than_another_name():
    known, other, none = (room_words([words]).certainty for words in ("Office", "Xylo", ""))
    assert known > other > none


@pytest.mark.parametrize(
    ("words", "level", "is_plan"),
    [
        ("Ground floor plan", 0, True),
        ("GRUNDRISS ERDGESCHOSS", 0, True),
        ("2. Obergeschoss", 2, True),
        ("PLAN DU 1er ÉTAGE", 1, True),
        ("Planta baja", 0, True),
        ("Piano primo", 1, True),
        ("Begane grond", 0, True),
        ("Bottenvåning", 0, True),
        ("Parter", 0, True),
        ("Level 3", 3, True),
        ("Basement 2", -2, True),
        ("Keller", -1, True),
        ("Section A-A", None, False),
        ("Schnitt B-B", None, False),
        ("North elevation", None, False),
        ("Detail 4", None, False),
    ],
)
def test_titles_tell_levels_and_what_is_no_plan(words, level, is_plan):
    found = title_of(words)
    assert (found.level, found.is_plan) == (level, is_plan)


@pytest.mark.parametrize("words", ["Office", "12.5 m²", "Kitchen", "3600"])
def test_what_is_no_title(words):
    assert title_of(words) is None


@pytest.mark.parametrize(
    ("words", "scales"),
    [
        ("Scale 1:100 @ A3", [100]),
        ("M 1 : 50", [50]),
        ("1/100", [100]),
        ('1/4" = 1\'-0"', [48]),
        ("1:7", []),
        ("11:30", []),
    ],
)
def test_printed_scales(words, scales):
    assert [scale for scale, _ in printed_scales(words)] == scales


def test_paper_is_named():
    assert (paper_of("1:100 @ A3"), paper_of("BA3X")) == ("A3", None)
