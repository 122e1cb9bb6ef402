"""Twenty layouts put together from pieces; the pieces of the ten set aside stand in no other."""

from __future__ import annotations

from dataclasses import dataclass

FONTS = ("Liberation Sans", "Liberation Serif", "DejaVu Sans", "DejaVu Serif", "Liberation Mono")

HEADS = {
    "left": '<div style="font-size:{{ big }}pt"><b>{{ seller.name }}</b></div><div>{{ seller.address|join(", ") }}</div>',
    "centre": '<div style="text-align:center;border-bottom:2px solid;padding-bottom:3mm"><span style="font-size:{{ big }}pt">'
    '{{ seller.name }}</span><br>{{ seller.address|join(" · ") }}</div>',
    "right": '<div style="text-align:right"><b style="font-size:{{ big }}pt">{{ seller.name }}</b><br>'
    '{{ seller.address|join("<br>"|safe) }}</div>',
    # set aside
    "band": '<div style="background:#28404a;color:#fff;padding:6mm;font-size:{{ big }}pt">{{ seller.name }}</div>',
    "split": '<table style="width:100%"><tr><td style="font-size:{{ big }}pt"><i>{{ seller.name }}</i></td>'
    '<td style="text-align:right;font-size:8pt">{{ seller.address|join("<br>"|safe) }}</td></tr></table>',
    "small": '<div style="font-size:8pt;border-bottom:1px solid">{{ seller.name }}, {{ seller.address|join(", ") }}</div>',
}

META = {
    "rows": '<table class="meta">{% for k, v in meta %}<tr><td>{{ k }}</td><td><b>{{ v }}</b></td></tr>{% endfor %}</table>',
    "colons": "<div>{% for k, v in meta %}{{ k }}: {{ v }}<br>{% endfor %}</div>",
    "heads": '<table class="grid"><tr>{% for k, v in meta %}<th>{{ k }}</th>{% endfor %}</tr><tr>{% for k, v in meta %}'
    "<td>{{ v }}</td>{% endfor %}</tr></table>",
    # set aside
    "boxes": '<div style="display:flex;flex-wrap:wrap;gap:2mm">{% for k, v in meta %}<div style="border:1px solid #555;padding:1.5mm 3mm">'
    '<div style="font-size:7.5pt">{{ k }}</div><div>{{ v }}</div></div>{% endfor %}</div>',
    "wide": '<table style="width:100%">{% for row in meta|batch(2) %}<tr>{% for k, v in row %}<td>{{ k }}</td>'
    '<td style="padding-right:12mm">{{ v }}</td>{% endfor %}</tr>{% endfor %}</table>',
    "dotted": '<div style="width:90mm">{% for k, v in meta %}<div style="display:flex"><span>{{ k }}</span>'
    '<span style="flex:1;border-bottom:1px dotted #444;margin:0 2mm 1mm"></span><span>{{ v }}</span></div>{% endfor %}</div>',
}

LINES = {
    "ruled": "border-bottom:1px solid #888",
    "plain": "border:0",
    "grid": "border:1px solid #666",
    "zebra": "background:#f1efe9",
}

SUMS = {
    "right": '<table class="sum" style="margin-left:auto">{% for k, v in sums %}<tr><td>{{ k }}</td><td class="n">{{ v }}</td></tr>{% endfor %}</table>',
    "bold": '<table class="sum" style="margin-left:auto">{% for k, v in sums %}<tr{% if loop.last %} style="font-weight:bold;font-size:13pt;border-top:2px solid"{% endif %}>'
    '<td>{{ k }}:</td><td class="n">{{ v }}</td></tr>{% endfor %}</table>',
    # set aside
    "across": '<table class="grid" style="margin-left:auto"><tr>{% for k, v in sums %}<th>{{ k }}</th>{% endfor %}</tr>'
    "<tr>{% for k, v in sums %}<td class=n>{{ v }}</td>{% endfor %}</tr></table>",
    "left": '<div style="width:95mm">{% for k, v in sums %}<div style="display:flex;justify-content:space-between;border-bottom:1px solid #aaa">'
    "<span>{{ k }}</span><span>{{ v }}</span></div>{% endfor %}</div>",
}


@dataclass(frozen=True)
class Template:
    """One layout: its pieces, its print, where the buyer stands, and whether it is set aside."""

    name: str
    header: str
    meta: str
    lines: str
    sums: str
    font: str
    size: float
    buyer_first: bool
    signs: str
    """How amounts carry the currency: "none", "before", "after", "code"."""
    aside: bool


KNOWN = tuple(
    Template(f"known-{at}", *pieces, aside=False)
    for at, pieces in enumerate(
        (
            ("left", "rows", "ruled", "right", FONTS[0], 10, True, "none"),
            ("left", "colons", "plain", "bold", FONTS[1], 11, True, "after"),
            ("centre", "heads", "grid", "right", FONTS[2], 9, True, "none"),
            ("centre", "rows", "zebra", "bold", FONTS[3], 10, False, "before"),
            ("right", "colons", "ruled", "right", FONTS[0], 10.5, True, "code"),
            ("right", "heads", "plain", "bold", FONTS[1], 11, False, "after"),
            ("left", "heads", "ruled", "bold", FONTS[4], 9.5, True, "none"),
            ("centre", "colons", "grid", "right", FONTS[0], 10, False, "code"),
            ("right", "rows", "zebra", "right", FONTS[2], 9, True, "before"),
            ("left", "rows", "plain", "bold", FONTS[3], 9.5, False, "after"),
        ),
        start=1,
    )
)
ASIDE = tuple(
    Template(f"aside-{at}", *pieces, aside=True)
    for at, pieces in enumerate(
        (
            ("band", "boxes", "ruled", "across", FONTS[0], 10, True, "none"),
            ("band", "wide", "plain", "left", FONTS[2], 9, False, "after"),
            ("split", "dotted", "grid", "left", FONTS[1], 11, True, "code"),
            ("split", "boxes", "zebra", "left", FONTS[3], 9.5, True, "before"),
            ("small", "wide", "ruled", "across", FONTS[0], 10, True, "none"),
            ("small", "dotted", "plain", "left", FONTS[4], 9.5, False, "after"),
            ("band", "dotted", "grid", "across", FONTS[1], 10.5, False, "none"),
            ("split", "wide", "ruled", "left", FONTS[0], 10, False, "code"),
            ("small", "boxes", "grid", "left", FONTS[2], 9, True, "before"),
            ("band", "boxes", "plain", "left", FONTS[0], 10, True, "after"),
        ),
        start=1,
    )
)

PAGE = """<!doctype html><meta charset="utf-8"><style>
@page{size:A4;margin:16mm 18mm} body{font:{{ t.size }}pt "{{ t.font }}"} table{border-collapse:collapse}
.meta td{padding:.7mm 5mm .7mm 0} .grid th{background:#eee;font-weight:normal;font-size:8.5pt;text-align:left}
.grid th,.grid td{border:1px solid #777;padding:1.2mm 3mm} .n{text-align:right!important;white-space:nowrap}
.lines{width:100%;margin:7mm 0} .lines th{text-align:left;font-weight:normal;border-bottom:1.3px solid #222}
.lines th,.lines td{padding:1.4mm 1.5mm} .lines tr:nth-child(even) td{ {{ style }} } .sum td{padding:1mm 0 1mm 8mm}
.foot{position:fixed;bottom:0;left:0;right:0;font-size:8pt;border-top:1px solid #999;padding-top:1.5mm} tr{break-inside:avoid}
</style>{{ header }}
{% if t.buyer_first %}<div style="margin:9mm 0 6mm">{{ w.bill_to }}<br>{{ buyer|join("<br>"|safe) }}</div>{% endif %}
<h1 style="font-size:15pt;font-weight:normal">{{ title }}</h1>{{ meta }}
{% if not t.buyer_first %}<div style="margin:7mm 0">{{ w.bill_to }}:<br>{{ buyer|join("<br>"|safe) }}</div>{% endif %}
<table class="lines"><tr>{% for c in w.columns %}<th{% if not loop.first %} class="n"{% endif %}>{{ c }}</th>{% endfor %}</tr>
{% for text, quantity, price, amount in lines %}<tr><td>{{ text }}</td><td class="n">{{ quantity }}</td><td class="n">{{ price }}</td><td class="n">{{ amount }}</td></tr>{% endfor %}</table>
{{ sums }}<p>{{ terms }}</p>
<div class="foot">{{ seller.name }} · {{ seller.address|join(", ") }} · {{ w.vat_id }} {{ seller.vat_id }} · {{ w.bank }} {{ seller.iban }}</div>
"""
