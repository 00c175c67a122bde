"""The library's data: complete, in range, with sources."""

import pytest

from heathrise.core.library import UnknownItem, library, limit

SHELF = library()


def test_every_default_the_job_uses_is_on_a_shelf():
    assert SHELF.equipment["ap-ceiling-wifi6-2x2"].takes_class == 4
    with pytest.raises(UnknownItem, match="no equipment named ap-none"):
        _ = SHELF.equipment["ap-none"]
    with pytest.raises(UnknownItem, match="no PoE class 9"):
        SHELF.poe_class(9)


@pytest.mark.parametrize("key", sorted(SHELF.build_ups))
def test_a_build_up_costs_more_the_higher_the_band(key):
    losses = SHELF.build_ups[key].losses_db
    assert list(losses) == sorted(losses)
    assert losses[0] > 0


@pytest.mark.parametrize("row", SHELF.poe_classes, ids=lambda r: f"class {r.poe_class}")
def test_a_poe_class_gives_more_than_arrives(row):
    assert row.source_w > row.device_w
    assert row.source_min_v > row.device_min_v
    assert row.pairs == (2 if row.poe_class <= 4 else 4)


@pytest.mark.parametrize("key", sorted(key for key, model in SHELF.equipment.items() if model.radiates))
def test_an_access_point_fits_its_class_and_has_a_pattern(key):
    model = SHELF.equipment[key]
    if model.links_up:
        assert model.max_w <= SHELF.poe_class(model.takes_class).device_w
    assert model.typical_w < model.max_w
    assert model.pattern in SHELF.patterns
    assert model.band("5") is not None


@pytest.mark.parametrize("key", sorted(SHELF.patterns))
def test_a_pattern_runs_from_ahead_to_behind_and_peaks_at_zero(key):
    cut = SHELF.patterns[key]
    assert [cut[0][0], cut[-1][0]] == [0, 180]
    assert max(level for _, level in cut) == 0


def test_the_disc_is_as_the_standing_data_says():
    cut = dict(SHELF.patterns["disc"])
    assert cut[60] == -3
    assert cut[180] == -8


@pytest.mark.parametrize("key", sorted(SHELF.limits))
def test_a_limit_has_a_source(key):
    assert SHELF.limits[key].source
    assert limit(key) == SHELF.limits[key].value


def test_the_domains_name_no_channel_twice():
    for domain in SHELF.domains.values():
        assert "regulator" in domain.note
        seen = [(piece.band, channel) for piece in domain.sub_bands for channel in piece.channels]
        assert len(seen) == len(set(seen))
