/** Cuts from each typeface the letters that English pages use, which a first visit loads; the rest follow when met. */

import { mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import subsetFont from "subset-font";
import type { Plugin } from "vite";

const here = import.meta.dirname;
const packages = join(here, "node_modules");
const folder = join(here, "src/letters");

/** Weights as the console uses them; a typeface of one weight has none to choose. */
const faces = {
  commissioner: {
    file: "@fontsource-variable/commissioner/files/commissioner-latin-wght-normal.woff2",
    weights: { wght: { min: 400, max: 700 } },
  },
  "source-code-pro": {
    file: "@fontsource-variable/source-code-pro/files/source-code-pro-latin-wght-normal.woff2",
    weights: { wght: { min: 400, max: 700 } },
  },
  literata: { file: "@fontsource/literata/files/literata-latin-600-normal.woff2", weights: {} },
};

/** The letters that the style sheet asks a face in src/letters for, by its `unicode-range`. */
function lettersOf(name: string): string {
  const sheet = readFileSync(join(here, "src/index.css"), "utf-8");
  const face = sheet.match(/@font-face\s*{[^}]*}/g)?.find((one) => one.includes(`/letters/${name}.`));
  const ranges = [...(face ?? "").matchAll(/U\+([0-9A-F]+)(?:-([0-9A-F]+))?/gi)];
  if (!ranges.length) throw new Error(`src/index.css asks ${name} for no letters`);
  return ranges
    .flatMap(([, from, to = from]) => {
      const [first, last] = [Number.parseInt(from, 16), Number.parseInt(to, 16)];
      return Array.from({ length: last - first + 1 }, (_, at) => String.fromCodePoint(first + at));
    })
    .join("");
}

export const englishLetters = (): Plugin => ({
  name: "english-letters",
  async buildStart() {
    mkdirSync(folder, { recursive: true });
    for (const [name, { file, weights }] of Object.entries(faces)) {
      const cut = await subsetFont(readFileSync(join(packages, file)), lettersOf(name), {
        targetFormat: "woff2",
        variationAxes: weights,
      });
      writeFileSync(join(folder, `${name}.woff2`), cut);
    }
  },
});
