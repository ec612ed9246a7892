"""Files that somebody sends to do harm, or by bad luck: drawings, bundles, tables and pictures, each with a name.

Used by ``make hostile`` (tools/hostile.py), and by the tests.
"""

from __future__ import annotations

import gzip
import io
import json
import struct
import zipfile
import zlib
from collections.abc import Callable, Iterator

import numpy as np

Named = tuple[str, bytes]
_SVG = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="100mm" height="100mm" viewBox="0 0 100 100">{}</svg>'


def _svg(body: str) -> bytes:
    return _SVG.format(body).encode()


def drawings() -> Iterator[Named]:
    """SVG files."""
    square = '<path d="M10 10h9v9h-9z"/>'
    yield "empty root", _svg("")
    yield "not xml", b"<svg" + b"\xff\xfe" * 999
    yield "no root", b"just words"
    yield "null bytes", b"\0" * 5000
    yield "cut in the middle", _svg(square)[:90]
    yield "deep groups", _svg("<g>" * 60_000 + square + "</g>" * 60_000)
    yield (
        "deep groups, not closed",
        b'<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9">' + b"<g>" * 400_000,
    )
    entities = "".join(f'<!ENTITY e{i} "{f"&e{i - 1};" * 10}">' for i in range(1, 10))
    yield (
        "entities in entities",
        f'<!DOCTYPE svg [<!ENTITY e0 "lol">{entities}]>{_SVG.format("<text>&e9;</text>")}'.encode(),
    )
    yield (
        "entity of a file",
        f'<!DOCTYPE svg [<!ENTITY f SYSTEM "file:///etc/passwd">]>{_SVG.format("<text>&f;</text>")}'.encode(),
    )
    yield (
        "entity of an address",
        f'<!DOCTYPE svg [<!ENTITY f SYSTEM "http://127.0.0.1:9/x">]>{_SVG.format("<text>&f;</text>")}'.encode(),
    )
    yield "outer DTD", f'<!DOCTYPE svg SYSTEM "http://127.0.0.1:9/x.dtd">{_SVG.format(square)}'.encode()
    yield "use of itself", _svg('<g id="a"><use xlink:href="#a"/></g>')
    yield "use in a ring", _svg('<g id="a"><use xlink:href="#b"/></g><g id="b"><use xlink:href="#a"/></g>')
    uses = "".join(f'<g id="u{i}">' + f'<use xlink:href="#u{i - 1}"/>' * 12 + "</g>" for i in range(1, 9))
    yield "uses of uses", _svg(f'<path id="u0" d="M1 1h2v2z"/>{uses}<use xlink:href="#u8"/>')
    yield (
        "clip of itself",
        _svg(
            '<clipPath id="c" clip-path="url(#c)"><rect width="9" height="9"/></clipPath><rect clip-path="url(#c)" width="9" height="9"/>'
        ),
    )
    yield (
        "marker of itself",
        _svg(
            '<marker id="m"><path d="M0 0h1" marker-end="url(#m)"/></marker><path d="M0 0h9" marker-end="url(#m)"/>'
        ),
    )
    yield (
        "markers on every point",
        _svg(
            '<marker id="m" overflow="visible"><path d="M0 0h1v1z"/></marker><path marker-mid="url(#m)" d="M0 0'
            + "l1 1" * 60_000
            + '"/>'
        ),
    )
    yield "no numbers", _svg('<path d="MNaN NaNLInfinity 1e999z"/><rect width="nan" height="inf"/>')
    yield "enormous numbers", _svg('<path d="M1e300 1e300L-1e300 1e300L0 -1e300z"/>')
    yield (
        "enormous viewBox",
        b'<svg xmlns="http://www.w3.org/2000/svg" width="1e9mm" height="1e9mm" viewBox="0 0 1e-9 1e-9"><path d="M0 0h1v1z"/></svg>',
    )
    yield (
        "viewBox of nothing",
        b'<svg xmlns="http://www.w3.org/2000/svg" width="9mm" height="9mm" viewBox="0 0 0 0"><path d="M0 0h1v1z"/></svg>',
    )
    yield (
        "negative size",
        b'<svg xmlns="http://www.w3.org/2000/svg" width="-9mm" height="-9mm"><path d="M0 0h1v1z"/></svg>',
    )
    yield (
        "a million points",
        _svg('<path d="M0 0' + "".join(f"L{i % 97} {i * 7 % 89}" for i in range(600_000)) + 'z"/>'),
    )
    yield (
        "everything crosses everything",
        _svg('<path d="M0 0' + "".join(f"L{(i % 2) * 100} {i / 40}" for i in range(4000)) + 'z"/>'),
    )
    yield (
        "ten thousand dots",
        _svg("".join(f'<circle cx="{i % 100}" cy="{i // 100}" r=".3"/>' for i in range(10_000))),
    )
    yield "a hundred thousand layers", _svg("<g><path d='M1 1h1v1z'/></g>" * 100_000)
    yield "arcs without end", _svg('<path d="M0 0' + "A1e-9 1e9 0 1 1 1 1" * 20_000 + 'z"/>')
    yield "curves without end", _svg('<path d="M0 0' + "C1e8 1e8 -1e8 1e8 1 1" * 40_000 + 'z"/>')
    yield (
        "dashes without end",
        _svg('<path stroke="#000" stroke-width="1" stroke-dasharray="1e-9 1e-9" d="M0 0h100"/>'),
    )
    yield (
        "wide stroke of many turns",
        _svg(
            '<path fill="none" stroke="#000" stroke-width="50" stroke-linejoin="round" d="M0 0'
            + "l9 9l-9 3" * 20_000
            + '"/>'
        ),
    )
    yield "transforms in transforms", _svg("<g transform='scale(1e5)'>" * 200 + square + "</g>" * 200)
    yield "transform of nothing", _svg(f'<g transform="scale(0)">{square}</g>')
    yield (
        "styles without end",
        _svg(
            "<style>"
            + "".join(f".a{i}>.b{i}~.c{i}{{fill:#000}}" for i in range(60_000))
            + f"</style>{square}"
        ),
    )
    yield "style of nesting", _svg("<style>" + "@media print{" * 20_000 + f"</style>{square}")
    yield "a long name", _svg(f'<g id="{"n" * 3_000_000}">{square}</g>')
    yield (
        "names that are code",
        _svg('<g id="&lt;script&gt;alert(1)&lt;/script&gt;">' + square + "</g><script>alert(1)</script>"),
    )
    yield (
        "pictures within",
        _svg(
            '<image width="9" height="9" xlink:href="file:///etc/passwd"/><image xlink:href="http://127.0.0.1:9/"/>'
            + square
        ),
    )
    yield "foreign things", _svg("<foreignObject><iframe src='file:///etc/passwd'/></foreignObject>" + square)
    yield "text only", _svg("<text x='9' y='9'>KOI</text>")
    yield "hidden only", _svg(f'<g display="none">{square}</g><g opacity="0">{square}</g>')
    yield "zipped without end", gzip.compress(b"<svg>" + b" " * 300_000_000)
    yield "zipped, damaged", gzip.compress(_svg(square))[:40]
    yield "zipped twice", gzip.compress(gzip.compress(_svg(square)))
    yield "UTF-16", _SVG.format(square).encode("utf-16")
    yield "UTF-7", b'<?xml version="1.0" encoding="UTF-7"?>' + _svg(square)
    yield "unknown encoding", b'<?xml version="1.0" encoding="no-such"?>' + _svg(square)
    yield (
        "attributes without end",
        _svg("<path " + " ".join(f'a{i}="{i}"' for i in range(200_000)) + " d='M0 0h1v1z'/>"),
    )
    yield "comments without end", _svg("<!--" + "-x" * 3_000_000 + "-->" + square)
    yield "processing instructions", b"<?x " + b"y" * 2_000_000 + b"?>" + _svg(square)
    yield "a picture called a drawing", _png(20, 20)


def _zip(*entries: tuple[str, bytes], kind: int = zipfile.ZIP_DEFLATED) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", kind) as archive:
        for name, data in entries:
            archive.writestr(name, data)
    return out.getvalue()


def bundles(good: bytes) -> Iterator[Named]:
    """Set bundles; ``good`` is one that reads."""
    with zipfile.ZipFile(io.BytesIO(good)) as archive:
        told = json.loads(archive.read("set.json"))

    def with_set(change: Callable[[dict], object]) -> bytes:
        other = json.loads(json.dumps(told))
        change(other)
        return _zip(("set.json", json.dumps(other).encode()))

    yield "no zip", b"PK\x03\x04" + b"x" * 400
    yield "empty zip", _zip()
    yield "cut off", good[: len(good) // 2]
    yield "middle overwritten", good[:200] + b"\0" * 4000 + good[4200:]
    yield "a bomb", _zip(("set.json", b" " * 900_000_000))
    yield (
        "a bomb of pictures",
        _zip(
            ("set.json", json.dumps(told).encode()),
            *((f"pictures/{i}.png", b"\0" * 30_000_000) for i in range(20)),
        ),
    )
    yield "lies of its size", _lying(_zip(("set.json", b" " * 80_000_000)))
    yield "ten thousand entries", _zip(("set.json", b"{}"), *((f"x{i}", b"") for i in range(10_000)))
    yield (
        "paths upwards",
        _zip(
            ("set.json", json.dumps(told).encode()),
            ("pictures/../../../etc/cron.d/x.png", b"x"),
            ("/etc/x", b"x"),
        ),
    )
    yield "two of one name", _zip(("set.json", b"{}"), ("set.json", json.dumps(told).encode()))
    yield (
        "pictures that are none",
        _zip(
            ("set.json", json.dumps(told).encode()),
            ("pictures/a.png", b"<script>"),
            ("pictures/b.jpg", b"\xff\xd8" + b"\0" * 99),
        ),
    )
    yield (
        "a picture of a billion",
        _zip(("set.json", json.dumps(told).encode()), ("pictures/a.png", _png(60_000, 60_000))),
    )
    yield "no set", _zip(("other.json", b"{}"))
    yield "set is a list", _zip(("set.json", b"[]"))
    yield "set is deep", _zip(("set.json", b"[" * 500_000 + b"]" * 500_000))
    yield "set is not JSON", _zip(("set.json", b"{"))
    yield "numbers of a thousand digits", _zip(("set.json", b'{"width_mm":' + b"9" * 200_000 + b"}"))
    yield "not a number", with_set(lambda s: s.update(width_mm=float("nan")))
    yield "without width", with_set(lambda s: s.pop("width_mm", None))
    yield "width of zero", with_set(lambda s: s.update(width_mm=0))
    yield "width enormous", with_set(lambda s: s.update(width_mm=1e308, height_mm=1e308))
    yield "no sheets", with_set(lambda s: s.update(sheets=[]))
    yield (
        "a hundred thousand sheets",
        with_set(lambda s: s.update(sheets=[{**s["sheets"][0], "openings": []}] * 100_000)),
    )
    yield "sheets of words", with_set(lambda s: s.update(sheets=["one", None, 3]))
    yield "openings of words", with_set(lambda s: s["sheets"][0].update(openings="many"))
    yield "version from the future", with_set(lambda s: s.update(version=99))
    yield "another format", with_set(lambda s: s.update(format="other"))
    yield "a long name", with_set(lambda s: s.update(name="n" * 5_000_000))
    yield (
        "stored by a way nobody has",
        _zip(("set.json", json.dumps(told).encode())).replace(b"\x08\x00", b"\x63\x00"),
    )


def _lying(data: bytes) -> bytes:
    """A zip whose directory says that its entry is small."""
    at = data.rfind(b"PK\x01\x02")
    return data[: at + 24] + struct.pack("<I", 10) + data[at + 28 :]


def tables() -> Iterator[Named]:
    """Drawers as tables; the name's ending tells the kind."""
    yield "empty.csv", b""
    yield "zeros.csv", b"\0" * 100_000
    yield "noise.csv", np.random.default_rng(1).integers(0, 256, 200_000, np.uint8).tobytes()
    yield "one line.csv", b"name," * 400_000
    yield "a million lines.csv", b"name,L,a,b\n" + b"x,50,0,0\n" * 500_000
    yield "a quote that never ends.csv", b'name,L,a,b\n"' + b"x,50,0,0\n" * 200_000
    yield "columns without end.csv", b",".join(b"c%d" % i for i in range(50_000)) + b"\n" + b"1," * 50_000
    yield "formulas.csv", b"name,L,a,b\n=cmd|' /C calc'!A0,50,0,0\n@SUM(1),40,0,0\n"
    yield "no numbers.csv", b"name,L,a,b\nx,nan,inf,-inf\ny,1e999,0,0\n"
    yield "words.csv", b"name,hex\n" + b"x" * 2_000_000 + b",#zzzzzz\n"
    yield "UTF-16.csv", "name,hex\nMoss,#406040\n".encode("utf-16")
    yield "latin.csv", "name;hex\nMoosgr\xfcn;#406040\n".encode("latin-1")
    yield "a palette.gpl", b"GIMP Palette\n" + b"300 -4 99999999999 x\n" * 100_000
    yield (
        "readings.txt",
        b"CGATS.17\nNUMBER_OF_FIELDS 99999999\nBEGIN_DATA_FORMAT\nSAMPLE_ID\nEND_DATA_FORMAT\nNUMBER_OF_SETS 999999999\nBEGIN_DATA\n",
    )
    yield "drawer.json", b"[" * 300_000
    yield (
        "drawer of lies.json",
        json.dumps(
            {"format": "anastrata-drawer", "version": 1, "inks": [{"key": "x" * 100_000}] * 300}
        ).encode(),
    )


def _png(width: int, height: int, data: bytes | None = None) -> bytes:
    def chunk(kind: bytes, body: bytes) -> bytes:
        return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))

    rows = zlib.compress(b"\0" * min(height * (width * 3 + 1), 40_000_000)) if data is None else data
    head = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", rows) + chunk(b"IEND", b"")


def _jpeg(picture: np.ndarray, **values: object) -> bytes:
    from PIL import Image

    out = io.BytesIO()
    Image.fromarray(picture).save(out, "JPEG", **values)
    return out.getvalue()


def pictures() -> Iterator[Named]:
    """Photographs of sheets."""
    from PIL import Image

    rng = np.random.default_rng(2)
    flat = _jpeg(np.full((900, 700, 3), 120, np.uint8))
    yield "no picture.jpg", b"\xff\xd8\xff\xe0" + b"x" * 900
    yield "cut off.jpg", flat[: len(flat) // 2]
    yield "a billion pixels.png", _png(60_000, 60_000)
    yield "64 megapixels of nothing.png", _png(8_000, 8_000)
    yield "of no height.png", _png(100, 0)
    yield "one row.png", _png(50_000, 1)
    yield "small.png", _png(20, 20)
    yield "broken rows.png", _png(800, 800, b"\x78\x9c" + b"\xff" * 400)
    yield "flat.jpg", flat
    yield "black.jpg", _jpeg(np.zeros((1500, 1200, 3), np.uint8))
    yield "noise.jpg", _jpeg(rng.integers(0, 256, (2400, 2000, 3), np.uint8), quality=60)
    yield "noise of 24 megapixels.jpg", _jpeg(rng.integers(0, 256, (6000, 4000, 3), np.uint8), quality=25)
    lines = np.where((np.arange(3000) % 6 < 3)[None, :, None], np.uint8(20), np.uint8(235))
    yield "lines.jpg", _jpeg(np.broadcast_to(lines, (2400, 3000, 3)).copy())
    checks = ((np.indices((2400, 2400)) // 7).sum(axis=0) % 2 * 255).astype(np.uint8)
    yield "checks.jpg", _jpeg(np.repeat(checks[..., None], 3, axis=2))
    dots = np.full((3000, 2400, 3), 40, np.uint8)
    dots[::12, ::12] = dots[1::12, ::12] = dots[::12, 1::12] = dots[1::12, 1::12] = 230
    yield "fifty thousand dots.jpg", _jpeg(dots)
    grey = Image.fromarray(rng.integers(0, 65535, (900, 900), np.uint16))
    out = io.BytesIO()
    grey.save(out, "TIFF")
    yield "sixteen bits.tif", out.getvalue()
    yield "tiff of lies.tif", b"II*\0\x08\0\0\0\x01\0\x00\x01\x04\0\x01\0\0\0\xff\xff\xff\xff\0\0\0\0"
    out = io.BytesIO()
    Image.new("RGB", (400, 400)).save(out, "GIF")
    yield "a film.jpg", out.getvalue()
    yield "a drawing.jpg", _svg("<path d='M0 0h9v9z'/>")
    yield "a page.webp", b"RIFF\xff\xff\xff\xffWEBPVP8X" + b"\0" * 4000
