"""The plant on the wire: models against the open package of them, raw bytes by struct, a second client; nonsense, lost
links, writes.
"""

from __future__ import annotations

import contextlib
import functools
import socket
import struct
import threading
import time

import pytest
import sunspec2.mdef
import sunspec2.modbus.client as second_client
from hypothesis import given
from hypothesis import strategies as st

from weighty_axle import demos
from weighty_axle.cli import main
from weighty_axle.design.derive import derive
from weighty_axle.exports.tables.readings import everything, take_readings
from weighty_axle.plant import models
from weighty_axle.plant.beside import beside, recorded, settings_read, write_row
from weighty_axle.plant.faults import Fault
from weighty_axle.plant.models import Point, decode, encode
from weighty_axle.plant.reader import LinkError, Reader, is_loopback
from weighty_axle.plant.registers import NonsenseError, image, read, walk
from weighty_axle.plant.server import NoServerError, PlantServer
from weighty_axle.plant.serving import fault_named, running


@functools.cache
def design_of(name):
    return derive(demos.demo(name))


@contextlib.contextmanager
def served(name="eye-clinic", *faults, speed=1.0):
    server = PlantServer(running(design_of(name), faults), 0, speed)
    server.start()
    try:
        yield server
    finally:
        server.stop()


# ---- models ----------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("number", "points"),
    [(1, models.COMMON), (101, models.INVERTER), (102, models.INVERTER), (103, models.INVERTER), (802, models.STORAGE)],
)
def test_models_are_the_published_ones_point_by_point(number, points):
    """Names, order, registers and scale factors against pysunspec2's definitions."""
    theirs = sunspec2.mdef.from_json_file(_json(number))["group"]["points"][2:]
    assert [(one.name, one.size) for one in points] == [(one["name"], one["size"]) for one in theirs]
    for one, other in zip(points, theirs, strict=True):
        assert one.scale == (other.get("sf", "") if isinstance(other.get("sf", ""), str) else "")
        assert (one.type in ("i16",)) == (other["type"] == "int16") and (one.type == "sf") == (
            other["type"] == "sunssf"
        )


def test_the_model_of_inputs_is_the_published_one():
    group = sunspec2.mdef.from_json_file(_json(160))["group"]
    assert [(one.name, one.size) for one in models.INPUTS] == [
        (one["name"], one["size"]) for one in group["points"][2:]
    ]
    each = group["groups"][0]["points"]
    assert [(one.name, one.size) for one in models.INPUT] == [(one["name"], one["size"]) for one in each]


def _json(number):
    from pathlib import Path

    return str(Path(sunspec2.mdef.__file__).parent / "models" / "json" / f"model_{number}.json")


@given(st.floats(-3000, 3000), st.sampled_from([-2, -1, 0, 1]), st.sampled_from(["i16", "u16", "u32"]))
def test_what_is_written_is_read_within_its_step_or_held_at_its_end(value, power, type_):
    points = (Point("X", type_, 2 if type_ == "u32" else 1, "X_SF"), Point("X_SF", "sf"))
    registers = encode(points, {"X": value}, {"X_SF": power})
    back = decode(points, registers)["X"]
    ends = {"i16": (-32767, 32767), "u16": (0, 65534), "u32": (0, 2**32 - 2)}[type_]
    held = min(max(round(value / 10**power), ends[0]), ends[1])
    assert back == pytest.approx(held * 10**power) and all(0 <= one <= 0xFFFF for one in registers)


def test_big_endian_words_and_not_implemented_by_raw_bytes():
    points = (Point("A", "i16"), Point("B", "u16"), Point("C", "u32", 2), Point("D", "i16"), Point("S", "string", 2))
    raw = struct.pack(">hHIh4s", -5, 0xFFFF, 70_000, -32768, b"ab\0\0")
    found = decode(points, struct.unpack(">7H", raw))
    assert found == {"A": -5, "B": None, "C": 70_000, "D": None, "S": "ab"}
    assert struct.pack(">7H", *encode(points, {"A": -5, "C": 70_000, "S": "ab"}, {})) == raw


# ---- over the wire ---------------------------------------------------------------------------------------------


def test_a_second_client_reads_the_same_values():
    """pysunspec2's own client, which knows nothing of ours."""
    with served("eye-clinic") as server:
        device = second_client.SunSpecModbusClientDeviceTCP(slave_id=1, ipaddr="127.0.0.1", ipport=server.port)
        device.scan()
        inverter, storage = device.models[102][0], device.models[802][0]
        inverter.read()
        storage.read()
        reader = Reader("127.0.0.1", server.port)
        live = reader.all()
        reader.close()
        device.close()
    assert device.models["common"][0].Md.cvalue == live.common["Md"] == "Simulated plant"
    assert inverter.DCV.cvalue == pytest.approx(live.inverter["DCV"], abs=0.02)
    assert inverter.PPVphAB.cvalue == pytest.approx(240.0) and inverter.AphA.value is None
    assert storage.V.cvalue == pytest.approx(live.storage["V"], abs=0.02)
    assert storage.A.cvalue == pytest.approx(live.storage["A"], abs=0.3) and storage.W.cvalue * storage.A.cvalue >= 0


def test_raw_bytes_of_the_protocol_show_the_mark():
    """Modbus TCP by hand: read 4 registers from 40000; 'SunS', model 1, 66 long."""
    with served("puppet-theatre") as server, socket.create_connection(("127.0.0.1", server.port), 5) as link:
        link.sendall(struct.pack(">HHHBBHH", 7, 0, 6, 1, 3, 40000, 4))
        answer = link.recv(100)
    assert struct.unpack(">HHHBBB", answer[:9]) == (7, 0, 11, 1, 3, 8)
    assert answer[9:] == b"SunS" + struct.pack(">HH", 1, 66)


def test_a_bad_joint_is_found_over_the_wire_and_recorded(tmp_path):
    with served("eye-clinic", Fault("bad joint", "W-MAIN")) as server:
        reader = Reader("127.0.0.1", server.port)
        live = reader.all()
        for second in range(3):
            write_row(tmp_path / "log.csv", f"2027-03-01T10:00:0{second}", recorded(reader.all()))
        reader.close()
    found = {one.key: one for one in beside(design_of("eye-clinic"), live)}
    assert {one.key for one in found.values() if one.verdict == "bad"} == {"W-MAIN"}
    assert "1.5 mΩ more" in found["W-MAIN"].says or "1.6 mΩ more" in found["W-MAIN"].says
    lines = (tmp_path / "log.csv").read_text().splitlines()
    assert lines[0].startswith("time,bank_v,bank_a,") and "W-MAIN_mv" in lines[0] and len(lines) == 4
    assert float(lines[1].split(",")[1]) == pytest.approx(live.storage["V"], abs=0.1)


@pytest.mark.parametrize(
    ("name", "fault", "key"),
    [
        ("eye-clinic", Fault("swapped sense", "W-MAIN"), "sense"),
        ("eye-clinic", Fault("leg swapped", "INV2"), "PPVphAB"),
        ("puppet-theatre", Fault("washer", "W-MAIN"), "W-MAIN"),
        ("eye-clinic", Fault("bad joint", "W-INV2"), "W-INV2"),
    ],
)
def test_faults_show_live_and_a_sound_plant_shows_none(name, fault, key):
    design = design_of(name)
    sound = beside(design, read(image(running(design))))
    assert len(sound) > 4 and {one.verdict for one in sound} == {"good"}
    told = [one for one in beside(design, read(image(running(design, (fault,))))) if one.verdict == "bad"]
    assert [one.key for one in told] == [key] and told[0].says


def test_settings_are_read_back_compared_and_written_one_by_one(tmp_path):
    design = design_of("puppet-theatre")
    with served("puppet-theatre", Fault("equalising", "CC1"), Fault("wrong profile", "INV1")) as server:
        reader = Reader("127.0.0.1", server.port)
        found = settings_read(design, reader.all(with_settings=True))
        told = everything(derive(take_readings(found, design, "2027-03-01", "OF").on(design.whole)))
        wrong = {one.key for one in found.read if not told[one.key].done}
        assert wrong == {"CC1 equalise", "CC1 absorption_v", "INV1 profile", "INV1 absorption_v"}
        keys = [one.key for one in found.read]
        for key in sorted(wrong):
            reader.write_setting(key, keys, told[key].said)
        assert reader.all(with_settings=True).settings == tuple(told[key].said for key in keys)
        assert server.plant.stands["CC1 equalise"] == "off"
        with pytest.raises(LinkError, match="very design"):
            reader.write_setting("CC1 equalise", ["CC1 equalise"], "on")
        done = reader._client.write_registers(models.BASE + 4, [1, 2], device_id=1)
        assert done.isError(), "nothing but settings is written to"
        reader.close()
    with pytest.raises(NonsenseError, match="another design"):
        settings_read(design_of("library-bus"), read(image(running(design))))


def test_the_plant_lives_on_while_it_is_read_faster_when_asked():
    with served("puppet-theatre", speed=60.0) as server:
        server.plant.sun_w_per_m2 = 0.0
        reader = Reader("127.0.0.1", server.port)
        first = reader.all().storage["SoC"]
        time.sleep(1.2)
        assert reader.all().storage["SoC"] < first
        reader.close()


def read_once(port, timeout_s):
    reader = Reader("127.0.0.1", port, timeout_s)
    try:
        return reader.all()
    finally:
        reader.close()


# ---- what goes wrong -------------------------------------------------------------------------------------------


def test_nobody_answers_and_a_link_that_is_lost_are_told_and_survived():
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    with pytest.raises(LinkError, match="nobody answers"):
        read_once(port, 0.5)
    with served("puppet-theatre") as server:
        reader = Reader("127.0.0.1", server.port, 0.5)
        assert reader.all().common["Md"]
    with pytest.raises(LinkError, match=r"lost|nobody"):
        reader.all()
    again = PlantServer(running(design_of("puppet-theatre")), server.port)
    again.start()
    assert reader.all().common["Md"], "the same reader goes on when the host is back"
    reader.close()
    again.stop()


def test_a_port_in_use_is_told(capsys):
    with served("puppet-theatre") as server:
        with pytest.raises(NoServerError, match=str(server.port)):
            PlantServer(running(design_of("puppet-theatre")), server.port).start()
        assert main(["plant", "demo:puppet-theatre", "--port", str(server.port), "--seconds", "0.1"]) == 2
        assert "cannot be served" in capsys.readouterr().err


def test_hundreds_that_knock_are_let_go_and_the_first_is_served_on():
    with served("puppet-theatre") as server:
        reader = Reader("127.0.0.1", server.port)
        assert reader.all().common["Md"]
        crowd = []
        for _ in range(400):
            with contextlib.suppress(OSError):
                crowd.append(socket.create_connection(("127.0.0.1", server.port), 2))
        time.sleep(0.5)
        assert len(server._server.active_connections) <= 32
        assert reader.all().common["Md"] == "Simulated plant"
        for one in crowd:
            one.close()
        reader.close()


@pytest.mark.parametrize("answer", [None, b"", b"HTTP/1.0 400 no\r\n\r\n", b"\0" * 200, bytes(range(256))])
def test_a_server_that_is_silent_or_talks_nonsense_is_told_in_a_sentence_and_in_time(answer):
    listener = socket.create_server(("127.0.0.1", 0))
    silent = []

    def talk():
        with contextlib.suppress(OSError):
            while True:
                link, _ = listener.accept()
                link.recv(100)
                if answer is None:
                    silent.append(link)
                    continue
                link.sendall(answer)
                link.close()

    threading.Thread(target=talk, daemon=True).start()
    before = time.monotonic()
    with pytest.raises((LinkError, NonsenseError)):
        read_once(listener.getsockname()[1], 0.4)
    assert time.monotonic() - before < 6
    for link in (*silent, listener):
        link.close()


def test_swapped_bytes_cut_models_and_endless_ones_are_told():
    good = image(running(design_of("puppet-theatre")))
    swapped = [(one & 0xFF) << 8 | one >> 8 for one in good]
    for registers, words in (
        (swapped, "wrong way round"),
        ([0, 0, *good[2:]], "do not begin"),
        (good[:-100], "cannot be|end in the middle"),
        ([*good[:2], 1, 0, *good[4:]], "cannot be"),
        ([*good[:2], 1, 3, 1, 1, 1, models.END, 0], "cut"),
        (good[:2], "end in the middle"),
    ):
        with pytest.raises(NonsenseError, match=words):
            read(registers)
    ids = [number for number, _, _ in walk(good)]
    assert ids == [1, 101, 802, 160, models.OWN_WAYS, models.OWN_SETTINGS]
    assert read([*good[:-2], 777, 2, 5, 5, models.END, 0]).unknown == (777,)


@given(st.data())
def test_damaged_registers_are_refused_in_a_sentence_or_read(data):
    good = list(image(running(design_of("puppet-theatre"))))
    for _ in range(data.draw(st.integers(1, 5))):
        good[data.draw(st.integers(0, len(good) - 1))] = data.draw(st.integers(0, 0xFFFF))
    with contextlib.suppress(NonsenseError):
        beside(design_of("puppet-theatre"), read(good))


@pytest.mark.parametrize(
    ("host", "here"), [("127.0.0.1", True), ("localhost", True), ("10.1.2.3", False), ("no such", False)]
)
def test_only_loopback_goes_without_a_question(host, here):
    assert is_loopback(host) is here


def test_readings_of_a_faulty_plant_are_written_and_diagnosed(tmp_path, capsys):
    """The plant's meters and the program's diagnosis, through files alone."""
    path = tmp_path / "readings.csv"
    assert main(["plant", "demo:puppet-theatre", "--fault", "equalising CC1", "--readings", str(path)]) == 0
    lines = path.read_text("utf-8-sig").splitlines()
    kept = [line for line in lines if not line.startswith(("S1", "S2", "CC1 amps"))]  # no sun is stated in the demo
    path.write_text("\n".join(kept))
    capsys.readouterr()
    assert main(["diagnose", "demo:puppet-theatre", str(path)]) == 1
    said = capsys.readouterr().out
    assert "bad   CC1 equalise" in said and "bad   CC1 holds" in said and "bad   INV1" not in said


def test_the_command_line_serves_a_running_plant_with_a_fault(capsys):
    assert main(["plant", "demo:eye-clinic", "--port", "0", "--fault", "dead string S2", "--seconds", "0.2"]) == 0
    assert "answers on 127.0.0.1" in capsys.readouterr().out
    assert fault_named(design_of("eye-clinic"), "dead string S2") == Fault("dead string", "S2")
    for wrong in (["--fault", "rust"], ["--speed", "0"], ["--port", "99999"]):
        assert main(["plant", "demo:eye-clinic", "--seconds", "0.1", *wrong]) == 2
    assert "bad joint" in capsys.readouterr().err
