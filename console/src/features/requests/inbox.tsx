import { useQuery } from "@tanstack/react-query";
import { queries } from "../../api/queries";
import { WhenTouched } from "../../ui/when-touched";

/** What waits for the one who is signed in, on every page. */
export function Inbox() {
  const rows = useQuery(queries.inbox()).data ?? [];
  const told = useQuery(queries.notices()).data ?? [];
  const count = (
    <>
      Waits for you{" "}
      <span
        className={`rounded-full px-1.5 text-sm font-semibold ${rows.length ? "bg-amber-wash text-amber" : ""}`}
      >
        {rows.length}
      </span>
      {told.length ? <span className="ml-2 text-sm">{told.length} new</span> : null}
    </>
  );
  return (
    <WhenTouched
      load={() => import("./inbox-list").then((one) => one.InboxList)}
      part={{ rows, told, count }}
      opens="Enter"
      className="order-2 ml-auto md:order-4 md:ml-0"
      standIn={
        <button
          type="button"
          aria-expanded="false"
          className="cursor-pointer py-1 text-soft hover:text-ink"
        >
          {count}
        </button>
      }
    />
  );
}
