import { describe, expect, test } from "vitest";
import type { Level } from "../src/api/types";
import { byRule } from "../src/lib/findings";
import { ownWords } from "../src/lib/sides";
import type { Change, Item, Line } from "../src/api/types";
import { operations, sketch } from "../src/features/api/spec";
import { aligned, differing } from "../src/lib/aligned";
import { paged, readSort, sorted, writeSort } from "../src/lib/rows";
import { askedOf, bays, LEAST, lettering, MOST, roomy, type Wanted } from "../src/lib/spines";
import { spread } from "../src/lib/timeline";
import { fromNow, itemPath, plural, visible } from "../src/lib/text";
import { picture, server } from "./rows";

describe("rows", () => {
  test("a sort is read and written the same way", () => {
    for (const text of ["tokens", "-tokens"]) expect(writeSort(readSort(text, ""))).toBe(text);
    expect(readSort(null, "-items")).toEqual({ key: "items", down: true });
    expect(readSort("", "items")).toEqual({ key: "items", down: false });
  });

  test.each([
    [["10.0.0", "9.0.0", "1.0.0"], false, ["1.0.0", "9.0.0", "10.0.0"]],
    [[3, 1, 2], true, [3, 2, 1]],
    [[null, 2, 1], false, [1, 2, null]],
    [[null, 2, 1], true, [2, 1, null]],
    [["", "b", "a"], true, ["b", "a", ""]],
    [[0, 2, null], false, [0, 2, null]],
  ])("%j sorted with down=%s is %j", (values, down, ordered) => {
    expect(sorted(values as (string | number | null)[], (one) => one, down)).toEqual(ordered);
  });

  test("a page that is not there is the nearest one", () => {
    const rows = Array.from({ length: 250 }, (_, index) => index);
    expect(paged(rows, 3, 100)).toMatchObject({ page: 3, pages: 3, rows: rows.slice(200) });
    expect(paged(rows, 99, 100).page).toBe(3);
    expect(paged(rows, Number.NaN, 100).page).toBe(1);
    expect(paged([], 5, 100)).toEqual({ page: 1, pages: 1, rows: [] });
  });
});

describe("the shelf", () => {
  const rows = [
    server("small", { current_items: 1, current_tokens: 10 }),
    server("big", {
      current_items: 40,
      current_tokens: 4000,
      team_slug: "crew",
      team_title: "Crew",
    }),
    server("old", {
      current_version: null,
      current_items: null,
      deprecated_version: "1.0.0",
      deprecated_items: 20,
    }),
    server("new", { current_version: null, current_items: null, current_tokens: null }),
  ];

  test("spines grow by equal steps for equal numbers, up to the largest", () => {
    const found = bays(picture(rows), new Map([["big", "crew"]]));
    const all = found.flatMap((bay) => bay.spines ?? []);
    expect(found.map((bay) => bay.mine)).toEqual([0, 1]);
    const of = (slug: string) => all.find((one) => one.row.slug === slug);
    expect(of("big")).toMatchObject({ ...MOST, state: "published", mine: true });
    expect(of("new")).toMatchObject({ ...LEAST, state: "empty", items: 0 });
    expect(of("old")).toMatchObject({
      height: (LEAST.height + MOST.height) / 2,
      state: "deprecated",
    });
    expect(of("small")?.height).toBe(Math.round(LEAST.height + (MOST.height - LEAST.height) / 40));
  });

  test("a filter moves no hue and leaves no empty bay", () => {
    const hue = (shown: typeof rows) =>
      Object.fromEntries(bays(picture(shown, rows), new Map()).map((bay) => [bay.team, bay.hue]));
    expect(hue(rows)).toEqual({ berths: 0, crew: 1 });
    expect(hue(rows.filter((row) => row.slug === "big"))).toEqual({ crew: 1 });
    expect(bays(picture([], rows), new Map())).toEqual([]);
  });

  test("many teams or servers close the bays, and what is not here comes by team", () => {
    const many = Array.from({ length: 200 }, (_, index) =>
      server(`s${index}`, { team_slug: `t${index % 20}` }),
    );
    expect(roomy(picture(many))).toBe(false);
    expect(roomy(picture(many.slice(0, 60)))).toBe(false);
    expect(roomy(picture(rows))).toBe(true);
    const mine = new Map([
      ["s3", "t3"],
      ["s23", "t3"],
    ]);
    const found = bays(picture(many), mine, (team) =>
      team === "t3" ? many.slice(3, 4) : undefined,
    );
    expect(found.filter((bay) => bay.spines).map((bay) => [bay.team, bay.mine])).toEqual([
      ["t3", 1],
    ]);
    expect(bays(picture(many), mine).find((bay) => bay.team === "t3")?.mine).toBe(2);
  });

  test.each(["tide-tables", "passenger-notices", "a".repeat(64)])(
    "%s is written to fit",
    (slug) => {
      const size = lettering(slug, LEAST.height);
      expect(size).toBeGreaterThanOrEqual(11);
      expect(size).toBeLessThanOrEqual(15);
    },
  );

  const none: Wanted = { name: "", team: "", state: "", tag: "", data: "", transport: "" };
  const nothing = askedOf(none);
  test.each([
    [{ name: "tide" }, { q: "tide" }],
    [{ data: "public" }, { data_class: "public" }],
    [{ state: "empty" }, { state: "empty" }],
    [
      { state: "waits-for-me", tag: "dock" },
      { state: "waits-for-me", tag: "dock" },
    ],
  ])("%j is asked for as %j", (wanted, asked) => {
    expect(askedOf({ ...none, ...wanted })).toEqual({ ...nothing, ...asked });
  });
});

describe("two versions side by side", () => {
  const line = (name: string): Line => ({
    name,
    type: "string",
    required: true,
    description: "",
    pointer: `/inputSchema/properties/${name}`,
  });
  const item = (...names: string[]) =>
    ({ parameters: names.map(line), results: [] }) as unknown as Item;
  const change = (old: string | null, now: string | null) =>
    ({ old_pointer: old, new_pointer: now, kind: "k", message: `${old} ${now}` }) as Change;

  test("lines are paired by pointer, gone ones stay where they stood", () => {
    const { pairs } = aligned(item("a", "b", "c"), item("a", "c", "d"), []);
    expect(pairs.map((pair) => [pair.old?.name, pair.now?.name])).toEqual([
      ["a", "a"],
      ["b", undefined],
      ["c", "c"],
      [undefined, "d"],
    ]);
  });

  test("each change stands at the innermost line it is about, else at the head", () => {
    const deep = change("/inputSchema/properties/a/enum", "/inputSchema/properties/a/enum");
    const gone = change("/inputSchema/properties/b", null);
    const text = change("/description", "/description");
    const { head, pairs } = aligned(item("a", "b"), item("a"), [deep, gone, text]);
    expect(head).toEqual([text]);
    expect(pairs.map((pair) => pair.notes)).toEqual([[deep], [gone]]);
  });

  test.each([
    ["in metres long", "in feet long", ["in ", "metres ", "long"]],
    ["same", "same", ["same", "", ""]],
    ["a b", "a", ["", "a b", ""]],
    ["", "new", ["", "", ""]],
  ])("%j against %j differs as %j", (one, other, parts) => {
    expect(differing(one, other)).toEqual(parts);
    expect(differing(one, other).join("")).toBe(one);
  });
});

describe("a line in time", () => {
  test.each([
    [
      [0, 50, 100],
      [0, 50, 100],
    ],
    [
      [0, 1, 100],
      [0, 10, 100],
    ],
    [
      [0, 99, 100],
      [0, 90, 100],
    ],
    [
      [0, 98, 99, 100],
      [0, 80, 90, 100],
    ],
    [
      [100, 0],
      [100, 0],
    ],
    [[5], [0]],
    [
      [7, 7, 7],
      [0, 10, 20],
    ],
  ])("%j stand at %j", (moments, places) => {
    expect(spread(moments, 10)).toEqual(places);
  });
});

describe("text", () => {
  test("hidden characters are shown, others kept", () => {
    expect(visible("Send tls_q7Zp0q7Zp0q7Zp0 along").map((piece) => piece.text)).toEqual([
      "Send tls_… along",
    ]);
    const pieces = visible("a\u{E0064}b\u202E\n");
    expect(pieces.filter((piece) => piece.hidden).map((piece) => piece.text.trim())).toEqual([
      "U+E0064",
      "U+202E",
    ]);
    expect(pieces.filter((piece) => !piece.hidden).map((piece) => piece.text)).toEqual([
      "a",
      "b",
      "\n",
    ]);
    const shown = (text: string) => visible(text).filter((piece) => piece.hidden).length;
    expect(["o\u3164o", "o\uFE0F", "o\u{E0110}", "o\u2800", "\u26A0\uFE0F"].map(shown)).toEqual([
      1, 1, 1, 1, 0,
    ]);
  });

  test.each([
    ["2026-06-03T00:00:00Z", "in 2 days"],
    ["2026-05-31T00:00:00Z", "yesterday"],
    ["2026-05-31T22:00:00Z", "2 hours ago"],
    ["2026-06-01T00:00:20Z", "this minute"],
  ])("%s is %s", (moment, words) => {
    expect(fromNow(moment, new Date("2026-06-01T00:00:00Z"))).toBe(words);
  });

  test("numbers agree with their nouns, and paths are escaped", () => {
    expect([plural(1, "tool"), plural(0, "tool"), plural(1200, "tool")]).toEqual([
      "1 tool",
      "0 tools",
      "1,200 tools",
    ]);
    expect(itemPath("a", "1.0.0", "resource:x://y z")).toBe(
      "/servers/a/1.0.0#resource%3Ax%3A%2F%2Fy%20z",
    );
  });
});

describe("the API's document", () => {
  const spec = {
    paths: {
      "/things": {
        get: {
          operationId: "list_things",
          description: "All.\nMore.",
          tags: ["catalog"],
          responses: {},
        },
        parameters: {} as never,
      },
    },
    components: {
      schemas: {
        Thing: {
          type: "object",
          required: ["id"],
          properties: { id: { type: "integer" }, parent: { $ref: "#/components/schemas/Thing" } },
        },
      },
    },
  };

  test("operations are listed with their group and first line", () => {
    expect(operations(spec)).toMatchObject([
      { id: "list_things", group: "catalog", method: "GET", path: "/things", words: "All." },
    ]);
  });

  test("schemas are sketched, recursive ones to a depth", () => {
    const text = sketch(spec, { type: "array", items: { $ref: "#/components/schemas/Thing" } });
    expect(text).toContain("id: integer");
    expect(text).toContain("parent?: ");
    expect(sketch(spec, { enum: ["a", null] })).toBe('"a" | null');
    expect(sketch(spec, { anyOf: [{ type: "null" }, { type: "string", format: "date" }] })).toBe(
      "null | string (date)",
    );
  });
});

describe("side by side", () => {
  test("marks words that the other text does not say, whatever their number", () => {
    const own = (text: string, other: string) =>
      ownWords(text, other)
        .filter((one) => one.own)
        .map((one) => one.text);
    expect(own("Look up one berth.", "Find one berth.")).toEqual(["Look"]);
    expect(own("List the berths", "list a berth")).toEqual(["the"]);
    expect(own("", "anything")).toEqual([]);
  });
  test("loses nothing of the text", () => {
    const text = "A (small) text, with signs: 2 × 3!";
    expect(
      ownWords(text, "with other words")
        .map((one) => one.text)
        .join(""),
    ).toBe(text);
  });
});

describe("findings by rule", () => {
  const row = (rule: string, level: Level, team: string, counting: number, known = 0) => ({
    rule,
    family: "words",
    level,
    team,
    team_title: team,
    counting,
    waived: 0,
    known,
  });
  const rows = [
    row("shouting", "warning", "crew", 3),
    row("cut-off", "error", "crew", 1),
    row("shouting", "warning", "berths", 0, 2),
    row("selling", "note", "crew", 9),
  ];
  test("puts the worst first, then what speaks most", () => {
    expect(byRule(rows, "", false).map((one) => one.rule)).toEqual([
      "cut-off",
      "shouting",
      "selling",
    ]);
  });
  test("leaves out what is less bad, and counts known ones only when asked", () => {
    expect(byRule(rows, "warning", false).map((one) => one.total)).toEqual([1, 3]);
    expect(byRule(rows, "warning", true).map((one) => one.total)).toEqual([1, 5]);
  });
});
