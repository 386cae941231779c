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
  "stacks": {
    "kinds": [
      {
        "kind": "placement",
        "words": "placement line",
        "runs": true,
        "usual": {
          "kind": "placement",
          "width_mm": 0.0,
          "spacing_mm": 2.5,
          "inset_mm": 0.5,
          "underlay": "centre",
          "corners": null
        }
      },
      {
        "kind": "tack-down",
        "words": "tack-down",
        "runs": true,
        "usual": {
          "kind": "tack-down",
          "width_mm": 0.0,
          "spacing_mm": 2.5,
          "inset_mm": 1.0,
          "underlay": "centre",
          "corners": null
        }
      },
      {
        "kind": "zigzag",
        "words": "zigzag",
        "runs": false,
        "usual": {
          "kind": "zigzag",
          "width_mm": 2.5,
          "spacing_mm": 2.0,
          "inset_mm": 1.5,
          "underlay": "centre",
          "corners": null
        }
      },
      {
        "kind": "satin",
        "words": "satin",
        "runs": false,
        "usual": {
          "kind": "satin",
          "width_mm": 3.0,
          "spacing_mm": 0.4,
          "inset_mm": 1.5,
          "underlay": "centre",
          "corners": null
        }
      }
    ],
    "layer": {
      "name": "",
      "fabric": "twill",
      "drawn": "",
      "offset_mm": 0.0,
      "join": "round",
      "inner": "keep",
      "shrinks": 0.0,
      "pull_mm": 0.0,
      "colour": "",
      "thread": "",
      "lay": "stick",
      "force_gf": null,
      "passed": false,
      "stitches": []
    },
    "formats": [
      "dst",
      "exp",
      "pes",
      "jef",
      "vp3",
      "xxx"
    ],
    "most_layers": 5,
    "most_sewings": 8,
    "least_wide_mm": 0.6
  },
  "stations": [
    {
      "id": "check",
      "words": "Check",
      "counted": true
    },
    {
      "id": "lines",
      "words": "Lines",
      "counted": true
    },
    {
      "id": "stack",
      "words": "Stack",
      "counted": false
    },
    {
      "id": "sheet",
      "words": "Sheet",
      "counted": true
    },
    {
      "id": "cut",
      "words": "Cut",
      "counted": true
    },
    {
      "id": "release",
      "words": "Release",
      "counted": true
    }
  ],
  "limits": {
    "order": {
      "width_mm": {
        "least": 0,
        "most": 100000
      },
      "height_mm": {
        "least": 0,
        "most": 100000
      },
      "quantity": {
        "least": 1,
        "most": 1000000
      },
      "bleed_mm": {
        "least": 0,
        "most": 1000
      },
      "border_mm": {
        "least": 0,
        "most": 1000
      },
      "tolerance_mm": {
        "least": 0,
        "most": 1000
      },
      "viewing_distance_m": {
        "least": 0,
        "most": 100000
      },
      "holes": {
        "least": 0,
        "most": 100000
      }
    },
    "media": {
      "width_mm": {
        "least": 10,
        "most": 1000000
      },
      "length_mm": {
        "least": 10,
        "most": 1000000
      }
    },
    "layout": {
      "rows_mm": {
        "least": 0,
        "most": 10000000.0
      },
      "columns": {
        "least": 1,
        "most": 20000
      },
      "gap_mm": {
        "least": 0,
        "most": 1000.0
      },
      "length_mm": {
        "least": 10,
        "most": 1000000
      },
      "seconds": {
        "least": 0,
        "most": 3600
      },
      "frame_mm": {
        "least": 0,
        "most": 500
      }
    },
    "marks": {
      "count": {
        "least": 2,
        "most": 4
      },
      "every_mm": {
        "least": 20,
        "most": 100000
      },
      "distance_mm": {
        "least": 0,
        "most": 500
      },
      "arm_mm": {
        "least": 1,
        "most": 200
      },
      "weight_mm": {
        "least": 0.1,
        "most": 20
      }
    },
    "tool": {
      "number": {
        "least": 1,
        "most": 8
      },
      "offset_mm": {
        "least": 0,
        "most": 3
      },
      "overcut_mm": {
        "least": 0,
        "most": 20
      },
      "force_gf": {
        "least": 0.1,
        "most": 1000
      },
      "tie_force_gf": {
        "least": 0,
        "most": 1000
      },
      "speed_mm_s": {
        "least": 0.1,
        "most": 2000
      },
      "acceleration_mm_s2": {
        "least": 10,
        "most": 100000
      },
      "passes": {
        "least": 1,
        "most": 10
      },
      "cut_mm": {
        "least": 0.2,
        "most": 500
      },
      "tie_mm": {
        "least": 0.05,
        "most": 100
      },
      "least_ties": {
        "least": 0,
        "most": 10000
      },
      "age_m": {
        "least": 0,
        "most": 1000000.0
      },
      "wear_gf_km": {
        "least": 0,
        "most": 1000
      }
    },
    "make": {
      "tolerance": {
        "least": 0,
        "most": 255
      },
      "threshold": {
        "least": 0,
        "most": 1
      },
      "specks_mm2": {
        "least": 0,
        "most": 100000000.0
      },
      "bridge_mm": {
        "least": 0,
        "most": 1000
      }
    },
    "line": {
      "offset_mm": {
        "least": -1000,
        "most": 1000
      },
      "corner_mm": {
        "least": 0,
        "most": 1000
      },
      "fit_mm": {
        "least": 0.001,
        "most": 5
      },
      "cut_mm": {
        "least": 0.05,
        "most": 1000
      },
      "tie_mm": {
        "least": 0.02,
        "most": 1000
      },
      "least_ties": {
        "least": 0,
        "most": 10000
      },
      "slit_deg": {
        "least": -360,
        "most": 360
      },
      "run_out_mm": {
        "least": -1000,
        "most": 1000
      },
      "frame_mm": {
        "least": 0,
        "most": 1000
      },
      "weed_mm": {
        "least": 1,
        "most": 10000
      },
      "tab_mm": {
        "least": 0.5,
        "most": 1000
      },
      "tab_deg": {
        "least": -360,
        "most": 720
      }
    },
    "stack": {
      "frame_mm": {
        "least": 1,
        "most": 200
      }
    },
    "layer": {
      "offset_mm": {
        "least": -20,
        "most": 100
      },
      "shrinks": {
        "least": 0,
        "most": 0.2
      },
      "pull_mm": {
        "least": 0,
        "most": 1
      },
      "force_gf": {
        "least": 1,
        "most": 1000
      }
    },
    "sewing": {
      "width_mm": {
        "least": 0,
        "most": 30
      },
      "spacing_mm": {
        "least": 0.2,
        "most": 12
      },
      "inset_mm": {
        "least": 0,
        "most": 30
      }
    }
  },
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
