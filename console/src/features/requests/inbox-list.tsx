import { CloseButton, Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { acts } from "../../api/acts";
import type { InboxEntry, NoticeRow } from "../../api/types";
import { fromNow } from "../../lib/text";
import { Mark } from "../../ui/marks";
import { Foreign } from "../../ui/parts";

const VERBS: Record<InboxEntry["kind"], string> = {
  risen: "Escalated",
  sign: "Sign",
  publish: "Publish",
  "sent-back": "Fix and resubmit",
  question: "Answer",
  "follow-up": "Do",
  waiver: "Decide",
  style: "Approve",
  routing: "Approve",
  ruling: "Approve",
  known: "Approve",
  suspended: "Look",
  kit: "Approve",
};

/** What waits for a person and what they were told, under the button that counts it. */
export function InboxList({
  rows,
  told,
  count,
}: {
  rows: InboxEntry[];
  told: NoticeRow[];
  count: ReactNode;
}) {
  return (
    <Popover>
      <PopoverButton className="cursor-pointer py-1 text-soft hover:text-ink">
        {count}
      </PopoverButton>
      <PopoverPanel
        anchor={{ to: "bottom end", gap: 8 }}
        className="z-10 max-h-[70vh] w-[min(30rem,94vw)] overflow-y-auto border border-rule bg-sheet py-2 shadow-lg outline-none"
      >
        {rows.length === 0 ? <p className="px-4 py-2 text-soft">Nothing waits for you.</p> : null}
        <ul aria-label="Waits for you">
          {rows.map((one) => (
            <li key={`${one.kind} ${one.page} ${one.words}`}>
              <CloseButton
                as={Link}
                to={one.page}
                className="block px-4 py-2 text-ink no-underline hover:bg-paper hover:underline"
              >
                <Entry one={one} />
              </CloseButton>
            </li>
          ))}
        </ul>
        <Told rows={told} />
      </PopoverPanel>
    </Popover>
  );
}

/** What one was told and has not read: what became of one's servers and requests, what hits one's kits. */
function Told({ rows }: { rows: NoticeRow[] }) {
  const client = useQueryClient();
  const read = useMutation({
    mutationFn: acts.readNotices,
    onSuccess: () => client.invalidateQueries({ queryKey: ["notices"] }),
  });
  const [newest] = rows;
  if (!newest) return null;
  return (
    <section aria-labelledby="told" className="mt-2 border-t border-rule pt-2">
      <div className="flex items-baseline justify-between gap-4 px-4 py-1">
        <h2 id="told" className="text-lg">
          You were told
        </h2>
        <button
          type="button"
          className="plain"
          disabled={read.isPending}
          onClick={() => read.mutate(newest.entry)}
        >
          I have read it
        </button>
      </div>
      <ul aria-label="You were told">
        {rows.map((one) => (
          <li key={one.entry}>
            <CloseButton
              as={Link}
              to={one.page}
              className="block px-4 py-2 text-ink no-underline hover:bg-paper hover:underline"
            >
              <span className="block">
                <Foreign text={one.words} />
              </span>
              <span className="text-sm text-soft">
                <Foreign text={one.because} />, {fromNow(one.at, new Date())}
              </span>
            </CloseButton>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Entry({ one }: { one: InboxEntry }) {
  const due = one.due_at ? `due ${fromNow(one.due_at, new Date())}` : "";
  return (
    <>
      <span className="block">
        <strong>{VERBS[one.kind]}:</strong> <Foreign text={one.words} />
      </span>
      <span className="text-sm">
        {one.overdue ? (
          <Mark shape="triangle" tone="amber">
            {one.risen ? "escalated to you, " : ""}
            {due.replace("due ", "overdue, due ")}
          </Mark>
        ) : (
          <span className="text-soft">{due || `since ${fromNow(one.at, new Date())}`}</span>
        )}
      </span>
    </>
  );
}
