import type { Spine } from "../../lib/spines";
import { plural } from "../../lib/text";
import { StateMark } from "../../ui/marks";

const WIDTH = 288;

/** What a spine stands for, beside it: for the pointer and the keyboard; Escape takes it away. */
export function SpineCard({
  spine,
  at,
  onEnter,
  onLeave,
}: {
  spine: Spine;
  at: DOMRect;
  onEnter: () => void;
  onLeave: () => void;
}) {
  const { row } = spine;
  const right = at.right + 8 + WIDTH < window.innerWidth;
  const left = right ? at.right + 8 : Math.max(8, at.left - 8 - WIDTH);
  const top = Math.max(8, Math.min(at.top, window.innerHeight - 220));
  return (
    <div
      role="tooltip"
      onMouseEnter={onEnter}
      onMouseLeave={onLeave}
      className="fixed z-10 border border-rule bg-sheet p-4 shadow-lg"
      style={{ left, top, width: Math.min(WIDTH, window.innerWidth - 16) }}
    >
      <p className="font-serif text-lg font-semibold">{row.title}</p>
      <p className="text-soft">
        <span className="font-mono">{row.current_version ?? row.deprecated_version ?? ""}</span>{" "}
        {row.data_class}
        {row.transports.length ? `, ${row.transports.join(", ")}` : ""}
      </p>
      <p>
        {plural(spine.items, "item")}, about {spine.tokens.toLocaleString("en")} tokens
      </p>
      <div className="mt-1 flex flex-wrap gap-x-4">
        {row.suspended ? <StateMark state="suspended" /> : null}
        {spine.state === "published" ? <StateMark state="published" /> : null}
        {spine.state === "deprecated" ? <StateMark state="deprecated" /> : null}
        {spine.state === "empty" ? <StateMark state="empty" /> : null}
        {row.waiting ? <StateMark state="in-review" /> : null}
        {row.reviewed === false ? <StateMark state="adopted" /> : null}
        {spine.mine ? <StateMark state="mine" /> : null}
      </div>
      {row.tags.length ? <p className="mt-1 text-sm text-soft">{row.tags.join(", ")}</p> : null}
    </div>
  );
}
