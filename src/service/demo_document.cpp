// SPDX-License-Identifier: GPL-3.0-or-later
#include "service/demo_document.h"

#include "service/demo_files.h"

#include <array>
#include <fmt/format.h>

namespace scorrere::service {

std::string demoDocument(std::int64_t count, std::uint64_t seed) {
    return fmt::format(R"json({{
  "scorrere": 1,
  "name": "Hollowmere nights",
  "noun": "sightings",
  "locale": "en",
  "source": {{ "demo": {{ "count": {}, "seed": {} }} }},
  "parameters": {{
    "odd": {{ "value": 60, "from": 20, "to": 80, "step": 1, "unit": "mm", "title": "odd above" }}
  }},
  "items": {{
    "header": {{
      "column": [
        {{ "text": "Hollowmere nights", "size": 24, "weight": 700 }},
        {{ "text": "Light traps on the marsh, one record a sighting", "size": 13, "colour": "quiet", "lines": 2 }}
      ],
      "padding": [20, 16, 14, 16], "gap": 2
    }},
    "record": {{
      "column": [
        {{
          "row": [
            {{
              "picture": "wings/{{picture}}", "width": 48, "height": 48, "radius": 8,
              "label": "Wing pattern of {{species}}",
              "fallback": {{ "none": "none", "missing": "missing", "broken": "broken" }}
            }},
            {{
              "column": [
                {{
                  "row": [
                    {{ "text": "{{species}}", "size": 15, "weight": 600, "grow": 1 }},
                    {{
                      "badge": "{{status}}",
                      "tone": [
                        {{ "tone": "bad", "when": "@.wingspan_mm > $.parameters.odd" }},
                        {{ "tone": "good", "when": "@.status == \"verified\"" }},
                        {{ "tone": "caution", "when": "@.status == \"queried\"" }},
                        {{ "tone": "note", "when": "@.status == \"provisional\"" }}
                      ]
                    }}
                  ],
                  "gap": 8, "align": "center"
                }},
                {{
                  "row": [
                    {{ "text": "{{site}} · {{count}}", "size": 12, "colour": "quiet" }},
                    {{ "text": "{{seen, date, medium}}", "missing": "not dated yet", "size": 12, "colour": "quiet" }}
                  ],
                  "gap": 12
                }},
                {{ "text": "{{note}}", "size": 13, "lines": 0 }},
                {{ "repeat": "traits", "part": {{ "badge": "{{entry}}", "weight": 400 }}, "most": 5, "gap": 4 }}
              ],
              "gap": 3, "grow": 1
            }}
          ],
          "gap": 12, "padding": [12, 16, 11, 16]
        }},
        {{ "line": 1, "colour": "faint" }}
      ]
    }},
    "footer": {{
      "column": [ {{ "text": "No more sightings", "size": 13, "colour": "quiet" }} ],
      "padding": [18, 16], "align": "center"
    }}
  }},
  "arrangement": {{ "list": {{ "gap": 0 }} }},
  "window": {{ "device": "tall handset", "upright": true, "textScale": 1 }},
  "run": {{ "viewLead": 0.5 }},
  "pictures": {{ "budgetMiB": 64 }},
  "budgets": {{ "medianMs": 8.3, "p99Ms": 16.7, "built": 60 }}
}}
)json",
                       count, seed);
}

std::string demoDocument(DemoForm form) {
    static constexpr std::array<const char*, 9> kForms{kCards,     kBoard,  kStrip,   kPager, kNights,
                                                       kTimetable, kLedger, kCompany, kHands};
    return kForms[static_cast<std::size_t>(form)];
}

std::string demoServiceDocument() {
    std::string text = demoDocument(0);
    const std::size_t from = text.find("{ \"demo\"");
    const std::size_t until = text.find("} }", from) + 3;
    return text.replace(from, until - from, R"json({
    "address": "demo:/sightings{?page,size,sort,status,fault}",
    "sign": { "bearer": "HOLLOWMERE" },
    "pages": { "style": "number", "size": 20, "total": "$.total" },
    "live": { "address": "demo:/live?every=4000", "records": "/sightings" },
    "items": "$.data.sightings[*]",
    "key": ["id"]
  },
  "send": {
    "set": { "address": "demo:/sightings/{id}" },
    "insert": { "address": "demo:/sightings" },
    "remove": { "address": "demo:/sightings/{id}" }
  })json");
}

std::string demoScript() {
    return R"json({
  "scorrereScript": 1,
  "name": "An evening on the marsh",
  "steps": [
    { "at": 0, "wheel": 240 },
    { "at": 200, "drag": { "by": -420, "for": 240 } },
    { "at": 1200, "fling": 6000 },
    { "at": 4000, "fling": -2500 },
    { "at": 5500, "key": "pageOn" },
    { "at": 5700, "key": "pageOn" },
    { "at": 6000, "map": 0.43 },
    { "at": 6300, "fling": 9000 },
    { "wait": "idle" },
    { "at": 100, "insert": { "at": 0, "record": 3, "count": 2 } },
    { "at": 200, "rotate": true },
    { "at": 500, "drag": { "by": -300, "for": 300 } },
    { "at": 1500, "rotate": true },
    { "at": 1800, "remove": { "at": 1, "count": 1 } },
    { "at": 2000, "key": "toEnd" },
    { "at": 2300, "fling": -4000 },
    { "wait": "idle" },
    { "at": 0, "map": 0.43 },
    { "at": 100, "fling": 3200 }
  ],
  "lasts": 1500
}
)json";
}

} // namespace scorrere::service
