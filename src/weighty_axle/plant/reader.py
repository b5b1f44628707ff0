"""Reads a plant, or a gateway that shows the same models, over Modbus TCP; only the simulated plant is written to."""

from __future__ import annotations

import ipaddress
from collections.abc import Sequence
from typing import Any

from weighty_axle.plant import models
from weighty_axle.plant.registers import Live, NonsenseError, read, settings_at, settings_sum, walk
from weighty_axle.plant.server import DEVICE, need_modbus

MOST_AT_ONCE = 100
"""Registers asked for in one request: the protocol allows 125."""
MOST_REGISTERS = 12_000
TIMEOUT_S = 2.0


class LinkError(RuntimeError):
    """Nothing can be read; the message is a sentence."""


def is_loopback(host: str) -> bool:
    """Whether a host is this very machine, by how it is written: all others are asked about first."""
    try:
        return host == "localhost" or ipaddress.ip_address(host).is_loopback
    except ValueError:
        return False  # a name: nobody is asked who that is


class Reader:
    """A link to one host. Everything blocks for `timeout_s` at most for each request: not for the window's thread."""

    def __init__(self, host: str, port: int, timeout_s: float = TIMEOUT_S) -> None:
        self.host, self.port, self._timeout_s = host, port, timeout_s
        self._made: Any = None

    @property
    def _client(self) -> Any:
        """The package is imported where the link is first used: in the background.

        Raises: NoServerError without the package.
        """
        if self._made is None:
            need_modbus()
            from pymodbus.client import ModbusTcpClient

            self._made = ModbusTcpClient(self.host, port=self.port, timeout=self._timeout_s, retries=1)
        return self._made

    def close(self) -> None:
        """Let go of the link."""
        if self._made is not None:
            self._made.close()

    def all(self, *, with_settings: bool = False) -> Live:
        """Everything there is; settings only when they are asked for: they are long.

        Raises: LinkError, NonsenseError
        """
        return read(self.registers(with_settings=with_settings), with_settings=with_settings)

    def registers(self, *, with_settings: bool) -> list[int]:
        """The image from the mark on, model by model as far as it goes.

        Raises: LinkError, NonsenseError
        """
        found = self._read(0, 2)
        if tuple(found) != models.MARK:
            walk(found)  # says what is wrong
        at = 2
        while at < MOST_REGISTERS:
            head = self._read(at, 2)
            found += head
            if head[0] == models.END:
                return found
            if head[1] == 0 or head[1] > MOST_REGISTERS:
                raise NonsenseError(f"Model {head[0]} says it is {head[1]} registers long: that cannot be.")
            if head[0] == models.OWN_SETTINGS and not with_settings:
                return [*found[:-2], models.END, 0]
            found += self._read(at + 2, head[1])
            at += 2 + head[1]
        raise NonsenseError("The models do not end: these registers are no such device.")

    def write_setting(self, key: str, keys: Sequence[str], said: str) -> None:
        """Write one setting of the simulated plant, and read it back.

        Raises: LinkError where it is no simulated plant, does not take it, or reads back otherwise.
        """
        live = self.all(with_settings=True)
        if live.common.get("Md") != "Simulated plant" or live.settings_sum != settings_sum(keys):
            raise LinkError("Only the simulated plant of this very design is written to.")
        first = settings_at(self.registers(with_settings=True))
        at = models.BASE + first + list(keys).index(key) * models.SETTING_REGISTERS
        point = (models.Point("Said", "string", models.SETTING_REGISTERS),)
        done = self._ask(self._client.write_registers, at, models.encode(point, {"Said": said}, {}))
        if done.isError():
            raise LinkError(f"{key} was not taken: {done}.")
        again = self.all(with_settings=True).settings or ()
        if again[list(keys).index(key)] != said:
            raise LinkError(f"{key} reads back as {again[list(keys).index(key)]!r}.")

    def _read(self, offset: int, count: int) -> list[int]:
        found: list[int] = []
        while len(found) < count:
            some = min(MOST_AT_ONCE, count - len(found))
            done = self._ask(self._client.read_holding_registers, models.BASE + offset + len(found), count=some)
            if done.isError():
                raise LinkError(
                    f"{self.host} does not show registers from {models.BASE + offset + len(found)} on: {done}."
                )
            if len(done.registers) != some:
                raise NonsenseError(f"{self.host} answers {len(done.registers)} registers where {some} were asked for.")
            found += done.registers
        return found

    def _ask(self, what: Any, *args: Any, **more: Any) -> Any:
        from pymodbus.exceptions import ModbusException

        try:
            if not self._client.connected and not self._client.connect():
                raise LinkError(f"{self.host}, port {self.port}: nobody answers.")
            return what(*args, device_id=DEVICE, **more)
        except (ModbusException, OSError) as error:
            self.close()
            raise LinkError(f"{self.host}, port {self.port}: the link is lost ({str(error)[:120]}).") from error
