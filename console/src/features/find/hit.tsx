import type { Hit, Piece } from "../../api/types";
import { itemPath } from "../../lib/text";
import { Foreign } from "../../ui/parts";

/** A text with the words that were looked for marked. */
export function Marked({ pieces }: { pieces: Piece[] }) {
  let at = 0;
  return pieces.map((piece) => {
    at += piece.text.length;
    const Tag = piece.hit ? "mark" : "span";
    return (
      <Tag key={at}>
        <Foreign text={piece.text} />
      </Tag>
    );
  });
}

export const hitPath = (hit: Hit): string =>
  hit.version && hit.item
    ? itemPath(hit.server, hit.version, hit.item)
    : `/servers/${encodeURIComponent(hit.server)}`;
