"""The door to the network: takes https, hands plain bytes to the server behind it on this machine, and turns http away.

A connection says at its first byte what it is: TLS begins with 0x16, anything else is a browser that was told http. What
has been let in is only carried to and fro, so a slow or silent visitor costs no thread. Who is at the other end is noted by
the port under which the door speaks to the server, since bytes inside TLS carry no address.
Source: RFC 8446, 5.1 (content type 22 of a handshake record).
"""

import asyncio
import contextlib
import logging
import socket
import ssl
import threading
from collections.abc import Callable
from pathlib import Path

logger = logging.getLogger(__name__)
_HANDSHAKE = 0x16
_MOST = 500
_MOST_FROM_ONE = 100
_FIRST_BYTE_S, _HANDSHAKE_S = 10.0, 10.0
_CHUNK = 64 * 1024


class Front:
    """Listens for devices of the room.

    Args:
        address: where it listens. inner: the socket on 127.0.0.1 that the server behind it takes.
        certificate, key: paths of the server's own.
    """

    def __init__(self, address: tuple[str, int], inner: socket.socket, certificate: Path, key: Path):
        self.inner = inner
        self._context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        self._context.minimum_version = ssl.TLSVersion.TLSv1_2
        self._context.load_cert_chain(certificate, key)
        self._from: dict[str, str] = {}
        self._open: dict[str, int] = {}
        self._listener = socket.create_server(address, backlog=256)
        self._listener.setblocking(False)
        self._loop = asyncio.new_event_loop()
        # A visitor that breaks off in the middle of a handshake is no fault of ours.
        self._loop.set_exception_handler(lambda loop, context: logger.debug("%s", context.get("message")))
        self._thread = threading.Thread(target=self._run, name="https front", daemon=True)

    @property
    def port(self) -> int:
        return self._listener.getsockname()[1]

    def start(self) -> None:
        self._thread.start()

    def stop(self) -> None:
        self._loop.call_soon_threadsafe(self._end)
        self._thread.join()
        self._listener.close()
        self._loop.close()

    def wrap(self, application: Callable) -> Callable:
        """The application as the devices see it: https, and each by its own address."""

        def behind(environ, start_response):
            address = self._from.get(environ.get("REMOTE_PORT", ""))
            if address:
                environ |= {"REMOTE_ADDR": address, "wsgi.url_scheme": "https"}
            return application(environ, start_response)

        return behind

    def _run(self) -> None:
        self._loop.create_task(self._accept())
        self._loop.run_forever()

    def _end(self) -> None:
        for task in asyncio.all_tasks(self._loop):
            task.cancel()
        self._loop.call_later(0.05, self._loop.stop)

    async def _accept(self) -> None:
        waiting: set[asyncio.Task] = set()
        while True:
            try:
                visitor, address = await self._loop.sock_accept(self._listener)
            except OSError:
                logger.exception("A connection could not be taken.")
                await asyncio.sleep(0.1)
                continue
            task = self._loop.create_task(self._let_in(visitor, address[0]))
            waiting.add(task)
            task.add_done_callback(waiting.discard)

    async def _let_in(self, visitor: socket.socket, address: str) -> None:
        if sum(self._open.values()) >= _MOST or self._open.get(address, 0) >= _MOST_FROM_ONE:
            visitor.close()
            return
        self._open[address] = self._open.get(address, 0) + 1
        try:
            with visitor, contextlib.suppress(OSError, ssl.SSLError, TimeoutError, asyncio.IncompleteReadError):
                await self._meet(visitor, address)
        finally:
            self._open[address] -= 1
            if not self._open[address]:
                del self._open[address]

    async def _meet(self, visitor: socket.socket, address: str) -> None:
        first = await asyncio.wait_for(self._peek(visitor), _FIRST_BYTE_S)
        if not first:
            return
        tls = self._context if first[0] == _HANDSHAKE else None
        reader = asyncio.StreamReader(limit=_CHUNK)
        protocol = asyncio.StreamReaderProtocol(reader)
        handshake = _HANDSHAKE_S if tls else None
        transport, _ = await self._loop.connect_accepted_socket(
            lambda: protocol, visitor, ssl=tls, ssl_handshake_timeout=handshake
        )
        writer = asyncio.StreamWriter(transport, protocol, reader, self._loop)
        try:
            if tls:
                await self._carry(reader, writer, address)
            else:
                await self._send_to_https(reader, writer)
        finally:
            writer.close()

    async def _peek(self, visitor: socket.socket) -> bytes:
        """The first byte, left where it is."""
        visitor.setblocking(False)
        ready = self._loop.create_future()
        self._loop.add_reader(visitor, lambda: ready.done() or ready.set_result(None))
        try:
            await ready
        finally:
            self._loop.remove_reader(visitor)
        return visitor.recv(1, socket.MSG_PEEK)

    async def _carry(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter, address: str) -> None:
        """To and fro until either side is done."""
        inner_reader, inner_writer = await asyncio.open_connection(*self.inner.getsockname(), limit=_CHUNK)
        port = str(inner_writer.get_extra_info("sockname")[1])
        self._from[port] = address
        ways = [
            asyncio.ensure_future(_copy(reader, inner_writer)),
            asyncio.ensure_future(_copy(inner_reader, writer)),
        ]
        try:
            await asyncio.wait(ways, return_when=asyncio.FIRST_COMPLETED)
        finally:
            for way in ways:
                way.cancel()
            await asyncio.gather(*ways, return_exceptions=True)
            inner_writer.close()
            del self._from[port]

    async def _send_to_https(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        head = await asyncio.wait_for(reader.readuntil(b"\r\n\r\n"), _FIRST_BYTE_S)
        lines = head.decode("latin-1").split("\r\n")
        path = [*lines[0].split(" "), "", "/"][1]
        host = next((line.split(":", 1)[1].strip() for line in lines[1:] if line.lower().startswith("host:")), "")
        good = path.startswith("/") and host and not set(host) & set("/\\@ \t<>\"'")
        answer = f"308 Permanent Redirect\r\nLocation: https://{host}{path}" if good else "400 Bad Request"
        writer.write(f"HTTP/1.1 {answer}\r\nContent-Length: 0\r\nConnection: close\r\n\r\n".encode("latin-1"))
        await writer.drain()


async def _copy(reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
    while data := await reader.read(_CHUNK):
        writer.write(data)
        await writer.drain()
