/** What only one of two texts says, word by word. */

export interface SidePiece {
  at: number;
  text: string;
  own: boolean;
}

const WORD = /[\p{L}\p{N}_]+/gu;
const root = (word: string): string => word.toLowerCase().replace(/(?:es|s)$/, "");

/** Cut a text in pieces: those with words that the other text does not have are its own. */
export function ownWords(text: string, other: string): SidePiece[] {
  const there = new Set([...other.matchAll(WORD)].map((one) => root(one[0])));
  const pieces: SidePiece[] = [];
  const add = (at: number, piece: string, own: boolean) => {
    const last = pieces.at(-1);
    if (piece === "") return;
    if (last && last.own === own) last.text += piece;
    else pieces.push({ at, text: piece, own });
  };
  let at = 0;
  for (const one of text.matchAll(WORD)) {
    add(at, text.slice(at, one.index), false);
    add(one.index, one[0], one[0].length > 2 && !there.has(root(one[0])));
    at = one.index + one[0].length;
  }
  add(at, text.slice(at), false);
  return pieces;
}
