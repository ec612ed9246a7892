"""A set as a layered SVG in millimetres, and masks as cut lines."""

from __future__ import annotations

from xml.sax.saxutils import quoteattr

import shapely
from shapely.geometry import MultiPolygon
from shapely.geometry.base import BaseGeometry

from strata.sheets.model import LayerSet, Sheet
from strata.sheets.outline import path_of

CUT_LINE = 0.1
# mm: hairlines that cutting programs take for cuts


def path_data(shape: BaseGeometry) -> str:
    """Path data in mm, four decimals: a tenth of a thousandth of a millimetre."""
    rings = (r for polygon in shapely.get_parts(shape) for r in (polygon.exterior, *polygon.interiors))
    return path_of((shapely.get_coordinates(r) for r in rings), 4)


def _svg(width: float, height: float, title: str, body: str) -> bytes:
    size = f'width="{width:g}mm" height="{height:g}mm" viewBox="0 0 {width:g} {height:g}"'
    return (
        f'<?xml version="1.0" encoding="UTF-8"?>\n<svg xmlns="http://www.w3.org/2000/svg" {size}>\n'
        f"<title>{title.replace('&', '&amp;').replace('<', '&lt;')}</title>\n{body}</svg>\n"
    ).encode()


def set_svg(layer_set: LayerSet) -> bytes:
    """Sheets, elements and marks as groups with ids; reads back with the same sheets, elements and openings."""
    body = "".join(_sheet(s, i, len(layer_set.sheets)) for i, s in enumerate(layer_set.sheets))
    return _svg(layer_set.width, layer_set.height, layer_set.name, body)


def _sheet(sheet: Sheet, index: int, count: int) -> str:
    grey = round(200 - 160 * index / max(1, count - 1))
    lines = [
        f'<g id="sheet-{sheet.number}" data-name={quoteattr(sheet.name)} fill="#{grey:02x}{grey:02x}{grey:02x}" fill-rule="evenodd">\n'
    ]
    names = list(dict.fromkeys(o.element for o in sheet.openings))
    for i, name in enumerate(names, start=1):
        lines.append(f'<g id="sheet-{sheet.number}-element-{i}" data-element={quoteattr(name)}>\n')
        for opening in sheet.openings:
            if opening.element == name:
                role = f' data-kind="{opening.role}"' if opening.role != "tone" else ""
                ident = quoteattr("opening-" + opening.key.replace("~", "-"))
                lines.append(f'<path id={ident}{role} d="{path_data(opening.polygon)}"/>\n')
        lines.append("</g>\n")
    if sheet.marks:
        lines.append(f'<g id="sheet-{sheet.number}-marks" data-role="mark">\n')
        lines.extend(f'<path d="{path_data(m)}"/>\n' for m in sheet.marks)
        lines.append("</g>\n")
    lines.append("</g>\n")
    return "".join(lines)


def mask_svg(layer_set: LayerSet, shape: MultiPolygon, title: str) -> bytes:
    """A mask as cut lines on the panel's own page, with the panel's corner to lay it by."""
    corner = f'<path id="panel" d="M0 0H{layer_set.width:g}V{layer_set.height:g}H0Z" fill="none" stroke="#9a9a9a" stroke-width="{CUT_LINE}" stroke-dasharray="1 1"/>\n'
    cut = f'<path id="cut" d="{path_data(shape)}" fill="none" stroke="#000000" stroke-width="{CUT_LINE}"/>\n'
    return _svg(layer_set.width, layer_set.height, title, corner + cut)
