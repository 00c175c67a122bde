"""Names that a recogniser of letters read, as they were likely written."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from heathrise.core.library import library
from heathrise.core.site.spelling import spelled
from heathrise.core.site.wording import plain, room_words

SPANISH = ["Pasillo", "Oficina", "Cocina"]


@pytest.mark.parametrize(
    ("read", "written"),
    [
        ("0.03 Reunion", "0.03 Reunión"),
        ("0.05Recepcin", "0.05 Recepción"),
        ("Almacn", "Almacén"),
        ("ALMACEN", "ALMACÉN"),
        ("2ofcina", "2 Oficina"),
        ("0.04Almacen17.7m2", "0.04 Almacén 17.7 m²"),
        # What is no name of a room stays as it is.
        ("4040", "4040"),
        ("13.40m²", "13.40m²"),
        ("Escala 1:100", "Escala 1:100"),
        ("Xyzzy", "Xyzzy"),
    ],
)
def test_a_name_gets_its_accents_and_letters_back(read, written):
    assert spelled([*SPANISH, read])[-1] == written


def test_the_tongue_of_the_other_names_decides():
    assert spelled(["Bureau", "Cuisine", "Reunion"])[-1] == "Réunion"
    assert spelled(["Oficina", "Cocina", "Reunion"])[-1] == "Reunión"
    assert spelled(["Corridoio", "Cucina", "0.07Laboratoro"])[-1] == "0.07 Laboratorio"


@pytest.mark.parametrize("read", ["p.07Keuken", "007 Keuken", "b07Keuken", "0,07-Keuken", "0.07_Keukn"])
def test_numbers_are_written_as_the_others_are(read):
    assert spelled(["0.01 Gang", "0.02 Kantoor", "0.03 Berging", read])[-1] == "0.07 Keuken"


@pytest.mark.parametrize("kept", ["B07 Lab", "101 Office", "Store 3", "Guest 4"])
def test_numbers_stay_where_others_are_not_like_them(kept):
    assert spelled(["101 Office", "102 Kitchen", kept])[-1] == kept


def test_an_area_behind_a_name_is_one_though_its_raised_two_is_lost():
    (name,) = spelled(["0.03 Meeting 12.59m"])
    assert room_words([name]) == ("0.03 Meeting", 12.59, 0.95)


@given(st.sampled_from(sorted({n for row in library().room_names.values() for n in row.names})))
def test_a_name_that_is_written_right_is_never_another(name):
    (out,) = spelled([name])
    assert plain(out) == plain(name)


@given(
    st.lists(
        st.text(max_size=20) | st.sampled_from(["0.0 Ofcina", "Laboratoro", "1 Hal", "Kuche 12"]), max_size=6
    )
)
def test_any_words_come_back_as_many_and_a_second_look_changes_nothing(texts):
    once = spelled(texts)
    assert len(once) == len(texts)
    assert spelled(once) == once
