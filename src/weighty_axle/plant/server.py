"""The plant on Modbus TCP: it runs on while it is read; settings of units may be written, nothing else.

The package that speaks it is optional: without it a sentence says so.
"""

from __future__ import annotations

import asyncio
import logging
import threading
from importlib.util import find_spec
from typing import Any

from weighty_axle.plant import models
from weighty_axle.plant.plant import Plant
from weighty_axle.plant.registers import image, settings_at

DEVICE = 1
LOOPBACK = "127.0.0.1"
TICK_S, GLANCES = 0.25, 10
MOST_LINKS = 32
"""Links that are served at once."""


class NoServerError(RuntimeError):
    """The plant cannot be served; the message is a sentence."""


def need_modbus() -> None:
    """Raises NoServerError where the package that speaks the protocol is missing."""
    if find_spec("pymodbus") is None:
        raise NoServerError("The package pymodbus is missing: install it to serve or read a plant.")
    # What goes wrong is told in our own sentences.
    logging.getLogger("pymodbus").setLevel(logging.CRITICAL)


class PlantServer:
    """Serves a plant on loopback in a thread of its own, `speed` seconds of the plant in each of ours."""

    def __init__(self, plant: Plant, port: int = 0, speed: float = 1.0) -> None:
        self.plant, self.port, self.speed = plant, port, speed
        self.lock = threading.Lock()
        self._loop: asyncio.AbstractEventLoop | None = None
        self._server: Any = None
        self._thread: threading.Thread | None = None
        self._begun = threading.Event()
        self._failed = ""
        # Ways, inputs and settings are as many dead or alive: the image keeps its length.
        self._size = len(image(plant))

    def start(self) -> int:
        """Begin to serve; returns the port.

        Raises: NoServerError for a port that is in use, or without the package.
        """
        need_modbus()
        self._thread = threading.Thread(target=self._run, name="simulated plant", daemon=True)
        self._thread.start()
        self._begun.wait(10)
        if self._failed:
            raise NoServerError(self._failed)
        return self.port

    def stop(self) -> None:
        """End it; does nothing when it has ended."""
        if self._loop is not None and self._server is not None:
            asyncio.run_coroutine_threadsafe(self._server.shutdown(), self._loop)
        if self._thread is not None:
            self._thread.join(5)
        self._server = None

    # ---- in its own thread ----

    def _run(self) -> None:
        try:
            asyncio.run(self._serve())
        except (OSError, RuntimeError) as error:
            self._failed = f"Port {self.port} cannot be served: {error}"
        finally:
            self._begun.set()

    async def _serve(self) -> None:
        from pymodbus.server import ModbusTcpServer
        from pymodbus.simulator import DataType, SimData, SimDevice

        self._loop = asyncio.get_running_loop()
        registers = self._registers()
        data = SimData(models.BASE, values=registers, datatype=DataType.REGISTERS)
        device = SimDevice(id=DEVICE, simdata=[data], action=self._asked)
        self._server = ModbusTcpServer(device, address=(LOOPBACK, self.port))
        await self._server.serve_forever(background=True)
        self.port = self._server.transport.sockets[0].getsockname()[1]
        self._begun.set()
        ticks = 0
        while not self._server.serving.done():
            await asyncio.sleep(TICK_S / GLANCES)
            self._bound()
            ticks += 1
            if ticks % GLANCES == 0:
                with self.lock:
                    self.plant.run(TICK_S * self.speed)

    def _bound(self) -> None:
        """However many knock: the first to come stay, the rest are let go."""
        for name, link in list(self._server.active_connections.items())[MOST_LINKS:]:
            link.close()
            self._server.active_connections.pop(name, None)

    def _registers(self) -> list[int]:
        with self.lock:
            made = image(self.plant)
        return made[: self._size]

    async def _asked(
        self,
        function: int,
        start: int,
        address: int,
        count: int,
        current: list[int],
        wanted: list[int] | list[bool] | None,
    ) -> Any:
        """Before every answer: what is so now; of what is to be written, only settings."""
        from pymodbus.constants import ExcCodes

        del function, start
        fresh = self._registers()
        current[:] = fresh[: len(current)]
        if wanted is None:
            return None
        first = settings_at(fresh)
        at = address - models.BASE - first
        keys = list(self.plant.stands)
        size = models.SETTING_REGISTERS
        if at < 0 or at % size or count != size or at // size >= len(keys):
            return ExcCodes.ILLEGAL_ADDRESS
        point = (models.Point("Said", "string", size),)
        said = str(models.decode(point, [int(one) for one in wanted])["Said"])
        with self.lock:
            self.plant.stands[keys[at // size]] = said
        return None
