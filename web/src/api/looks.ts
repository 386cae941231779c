/** Made from the core's tables: ./horismos manage looks > web/src/api/looks.ts */
export const looks = {
  "roles": [
    {
      "role": "kiss-cut",
      "words": "kiss cut",
      "colour": "#2F47C2",
      "shape": "ticked"
    },
    {
      "role": "through-cut",
      "words": "through cut",
      "colour": "#C4442A",
      "shape": "double"
    },
    {
      "role": "perforation",
      "words": "perforation",
      "colour": "#8A2F7F",
      "shape": "cuts-and-ties"
    },
    {
      "role": "back-cut",
      "words": "back cut",
      "colour": "#55701C",
      "shape": "dotted"
    },
    {
      "role": "crease",
      "words": "crease",
      "colour": "#A86A00",
      "shape": "dash-dot"
    }
  ],
  "formats": [
    {
      "id": "hpgl",
      "words": "HP-GL"
    },
    {
      "id": "dxf",
      "words": "DXF"
    },
    {
      "id": "gcode",
      "words": "ISO 6983 code"
    },
    {
      "id": "pdf",
      "words": "PDF"
    },
    {
      "id": "svg",
      "words": "SVG"
    }
  ],
  "marks": [
    {
      "id": "bracket-in",
      "words": "brackets opening inwards",
      "size": "arms",
      "stroked": true
    },
    {
      "id": "bracket-out",
      "words": "brackets opening outwards",
      "size": "arms",
      "stroked": true
    },
    {
      "id": "cross",
      "words": "crosses",
      "size": "arms",
      "stroked": true
    },
    {
      "id": "dot",
      "words": "dots",
      "size": "across",
      "stroked": false
    },
    {
      "id": "ring",
      "words": "rings with a dot",
      "size": "across",
      "stroked": true
    },
    {
      "id": "square",
      "words": "squares",
      "size": "side",
      "stroked": false
    }
  ],
  "stop": "#B3261E",
  "look": "#6B5300",
  "note": "#6B6B6B",
  "ink": "#1A1A1A"
};
