"""Writes small PDFs byte by byte for the tests: nothing here is the product's code."""

import math
from dataclasses import dataclass, field

MM = 72 / 25.4


@dataclass
class Drawing:
    """Content in mm (the page is scaled), inks as resources by name, boxes in mm."""

    content: str
    size: tuple[float, float] = (100.0, 100.0)
    inks: dict[str, str] = field(default_factory=lambda: {"K": "Kiss Cut"})
    trim: tuple[float, float, float, float] | None = (10, 10, 90, 90)
    bleed: tuple[float, float, float, float] | None = (5, 5, 95, 95)
    extra_page: str = ""
    extra_resources: str = ""
    pages: int = 1
    layer: str = ""
    layers: tuple[str, ...] = ()
    """Layers by name, as resources /L0, /L1, …; one that begins with - is off, with ! is not printed."""
    objects: tuple[bytes, ...] = ()
    """Further objects of the file, from number 20 on."""
    catalog: str = ""


def circle(x: float, y: float, r: float) -> str:
    """A circle of four cubic curves, closed."""
    k = r * 4 / 3 * (math.sqrt(2) - 1)
    return (
        f"{x + r} {y} m {x + r} {y + k} {x + k} {y + r} {x} {y + r} c "
        f"{x - k} {y + r} {x - r} {y + k} {x - r} {y} c "
        f"{x - r} {y - k} {x - k} {y - r} {x} {y - r} c "
        f"{x + k} {y - r} {x + r} {y - k} {x + r} {y} c h "
    )


def line_in(path: str, ink: str = "K", tint: float = 1, paint: str = "S", width: float = 0.05) -> str:
    """A path painted in a line ink, overprinting."""
    return f"/Over gs /{ink} CS /{ink} cs {tint} SCN {tint} scn {width} w {path} {paint}\n"


def _name(text: str) -> str:
    """A name with everything but letters and digits escaped."""
    return "".join(chr(b) if chr(b).isalnum() and b < 128 else f"#{b:02x}" for b in text.encode())


def write(d: Drawing) -> bytes:
    """The bytes of a PDF."""
    tint = "<< /FunctionType 2 /Domain [0 1] /C0 [0 0 0 0] /C1 [0 1 0 0] /N 1 >>"
    spaces = " ".join(
        f"/{key} [/Separation /{_name(name)} /DeviceCMYK {tint}]" for key, name in d.inks.items()
    )

    def box(name: str, values: tuple[float, float, float, float] | None) -> str:
        return f"/{name} [{' '.join(f'{v * MM:.6f}' for v in values)}]" if values else ""

    content = f"q {MM:.8f} 0 0 {MM:.8f} 0 0 cm\n{d.content}\nQ".encode()
    layers = "/OCProperties << /OCGs [5 0 R] /D << /ON [5 0 R] >> >>" if d.layer else ""
    properties = "/Properties << /L 5 0 R >>" if d.layer else ""
    groups: dict[int, bytes] = {}
    if d.layers:
        numbers = [f"{6 + i} 0 R" for i in range(len(d.layers))]
        off = " ".join(n for n, name in zip(numbers, d.layers, strict=True) if name.startswith("-"))
        listed = " ".join(numbers)
        order = f"/AS [<< /Event /Print /Category [/Print] /OCGs [{listed}] >>]"
        layers = f"/OCProperties << /OCGs [{listed}] /D << /ON [{listed}] /OFF [{off}] {order} >> >>"
        properties = f"/Properties << {' '.join(f'/L{i} {n}' for i, n in enumerate(numbers))} >>"
        for i, name in enumerate(d.layers):
            usage = "/Usage << /Print << /PrintState /OFF >> >>" if name.startswith("!") else ""
            groups[6 + i] = f"<< /Type /OCG /Name ({name.lstrip('-!')}) {usage} >>".encode()
    media = box("MediaBox", (0, 0, *d.size))
    page = (
        f"<< /Type /Page /Parent 2 0 R {media} {box('TrimBox', d.trim)} {box('BleedBox', d.bleed)} "
        f"/Resources << /ColorSpace << {spaces} >> {properties} /ExtGState << "
        f"/Over << /OP true /op true /OPM 1 >> /Half << /ca 0.5 /CA 0.5 >> >> {d.extra_resources} >> "
        f"/Contents 4 0 R {d.extra_page} >>"
    )
    kids = " ".join("3 0 R" for _ in range(d.pages))
    objects = [
        f"<< /Type /Catalog /Pages 2 0 R {layers} {d.catalog} >>".encode(),
        f"<< /Type /Pages /Kids [{kids}] /Count {d.pages} >>".encode(),
        page.encode(),
        b"<< /Length %d >>\nstream\n%s\nendstream" % (len(content), content),
        f"<< /Type /OCG /Name (line) {d.layer} >>".encode() if d.layer else b"null",
        *(groups.get(number, b"null") for number in range(6, 20) if d.layers or d.objects),
        *d.objects,
    ]
    out = bytearray(b"%PDF-1.7\n")
    places = []
    for number, body in enumerate(objects, 1):
        places.append(len(out))
        out += b"%d 0 obj\n%s\nendobj\n" % (number, body)
    start = len(out)
    out += b"xref\n0 %d\n0000000000 65535 f \n" % (len(objects) + 1)
    out += b"".join(b"%010d 00000 n \n" % place for place in places)
    out += b"trailer << /Size %d /Root 1 0 R >>\nstartxref\n%d\n%%%%EOF\n" % (len(objects) + 1, start)
    return bytes(out)
