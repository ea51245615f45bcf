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

/** The same as the `unicode-range` of the first faces in src/index.css. */
const english =
  Array.from({ length: 95 }, (_, at) => String.fromCodePoint(32 + at)).join("") + "\u00a0·×–—‘’“”…";

export const englishLetters = (): Plugin => ({
  name: "english-letters",
  async buildStart() {
    mkdirSync(folder, { recursive: true });
    for (const [name, { file, weights }] of Object.entries(faces)) {
      const cut = await subsetFont(readFileSync(join(packages, file)), english, {
        targetFormat: "woff2",
        variationAxes: weights,
      });
      writeFileSync(join(folder, `${name}.woff2`), cut);
    }
  },
});
