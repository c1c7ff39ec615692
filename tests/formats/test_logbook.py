"""The logbook's CSV and its lines, in the format and from the command."""

from __future__ import annotations

import json
from datetime import UTC, datetime, timedelta
from pathlib import Path

import jsonschema
import numpy as np
import pytest
from click.testing import CliRunner
from hypothesis import given
from hypothesis import strategies as st

from aspectum.cli import main
from aspectum.core.practice.skills import KINDS, Skill
from aspectum.formats.logbook import COLUMNS, LIMIT_BYTES, LogRow, read_logbook, write_logbook
from aspectum.formats.reading import FormatError
from aspectum.formats.schemas import schema_text
from aspectum.service.practice.logbook_lines import logbook_lines

AT = datetime(2026, 3, 14, 19, 30, tzinfo=UTC)
HEAD = ",".join(COLUMNS)
GOOD = "2026-03-14T19:30:00Z,Mara,lower rim,practice,question 3,12.0,17.0,,degrees,4.5"


def rows(errors: list[float], skill: Skill = Skill.LOWER_RIM) -> list[LogRow]:
    return [
        LogRow(AT + timedelta(minutes=k), "Mara", skill, "practice", f"question {k + 1}", 20.0 + e, 20.0, None, 4.0)
        for k, e in enumerate(errors)
    ]


names = st.text(st.characters(codec="utf-8", exclude_characters="\0"), max_size=40)


@given(
    st.lists(
        st.builds(
            LogRow,
            st.datetimes(datetime(1971, 1, 1), datetime(2200, 1, 1), timezones=st.just(UTC)),
            names,
            st.sampled_from(Skill),
            st.sampled_from(["judgement", "critique", "practice"]),
            names,
            st.floats(-1e5, 1e5),
            st.floats(-1e5, 1e5),
            st.none() | st.floats(0, 100),
            st.none() | st.floats(0, 1000),
        ),
        max_size=6,
    )
)
def test_what_is_written_is_read_again_to_the_last_digit(written: list[LogRow]) -> None:
    assert read_logbook(write_logbook(written)) == written


def test_a_name_that_a_spreadsheet_would_reckon_is_kept_from_it() -> None:
    """OWASP, CSV Injection."""
    row = rows([1.0])[0]
    row.person, row.sighting = "=HYPERLINK(1)", "+1"
    text = write_logbook([row]).decode()
    assert ",'=HYPERLINK(1)," in text and ",'+1," in text and read_logbook(text.encode())[0].person == "=HYPERLINK(1)"


@pytest.mark.parametrize(
    ("line", "place"),
    [
        (GOOD.replace("lower rim", "whistling"), "line 2: skill"),
        (GOOD.replace("degrees", "miles"), "line 2: unit"),
        (GOOD.replace("12.0", "much"), "line 2: judged"),
        (GOOD.replace("12.0", "nan"), "line 2: judged"),
        (GOOD.replace("17.0", "1e99"), "line 2: truth"),
        (GOOD.replace("4.5", "-1"), "line 2: seconds"),
        (GOOD.replace("2026-03-14T19:30:00Z", "yesterday"), "line 2: when"),
        (GOOD.replace("2026", "1066"), "line 2: when"),
        (GOOD.replace("practice", "hearsay"), "line 2: source"),
        (GOOD.replace("Mara", "M" * 300), "line 2: person"),
        (GOOD.rsplit(",", 2)[0], "line 2: 10 entries"),
        ('"unclosed', "not CSV"),
    ],
)
def test_a_fault_is_told_with_its_line(line: str, place: str) -> None:
    with pytest.raises(FormatError, match=place):
        read_logbook(f"{HEAD}\n{line}\n".encode())


@pytest.mark.parametrize("data", [b"\xff\xfe\x00", b"PK\x03\x04\0\0", b"", b"a,b,c\n1,2,3\n", b" " * (LIMIT_BYTES + 1)])
def test_what_is_no_logbook_is_refused(data: bytes) -> None:
    with pytest.raises(FormatError):
        read_logbook(data)


def test_columns_may_stand_in_another_order_and_those_not_needed_may_be_missing() -> None:
    text = (
        "skill,unit,truth,judged,when,source,sighting\nheight by eye level,per cent,100,104,2026-03-14 "
        "19:30,judgement,h1\n"
    )
    (row,) = read_logbook(text.encode())
    assert (row.skill, row.error, row.person, row.seconds, row.when) == (Skill.HEIGHT, 4.0, "", None, AT)


def test_the_command_gives_the_handbooks_figures(tmp_path: Path) -> None:
    """3, 5, 4, 6, 2 → bias 4.00 (2.04 to 5.96), spread 1.58 (0.95 to 4.54); four readings say nothing (handbook section
    8).
    """
    path = tmp_path / "log.csv"
    path.write_bytes(write_logbook([*rows([3, 5, 4, 6, 2]), *rows([1, 2, 3, 4], Skill.HEIGHT)]))
    result = CliRunner().invoke(main, ["logbook", str(path), "--json"])
    first, second = (json.loads(line) for line in result.output.splitlines())
    for line in (first, second):
        jsonschema.validate(line, json.loads(schema_text("logbook")))
    assert result.exit_code == 0 and (first["skill"], first["unit"], first["n"]) == ("lower rim", "degrees", 5)
    figures = [first[name] for name in ("bias", "bias_low", "bias_high", "spread", "spread_low", "spread_high")]
    assert figures == pytest.approx([4.0, 2.04, 5.96, 1.58, 0.95, 4.54], abs=0.005)
    assert second["n"] == 4 and second["bias"] is None and second["spread_high"] is None
    table = CliRunner().invoke(main, ["logbook", str(path)]).output
    assert "too few to say" in table and "+4.00" in table


def test_one_logbook_that_cannot_be_read_does_not_cost_the_others(tmp_path: Path) -> None:
    good, bad = tmp_path / "good.csv", tmp_path / "bad.csv"
    good.write_bytes(write_logbook(rows([3, 5, 4, 6, 2])))
    bad.write_text(f"{HEAD}\n{GOOD.replace('12.0', 'much')}\n")
    result = CliRunner().invoke(main, ["logbook", str(bad), str(good), str(tmp_path / "none.csv"), "--json"])
    assert result.exit_code == 2 and result.stdout.count("aspectum-logbook") == 1
    assert "bad.csv: line 2: judged" in result.stderr and "none.csv: No such file" in result.stderr


def test_lines_stand_in_the_order_of_the_skills() -> None:
    found = logbook_lines([*rows([1.0], Skill.LETTERING), *rows([1.0], Skill.LEFT_BELOW)])
    assert [line.skill for line in found] == [Skill.LEFT_BELOW, Skill.LETTERING]
    assert all(line.unit is KINDS[line.skill].unit for line in found) and np.all([line.bias is None for line in found])
