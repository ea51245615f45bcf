import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { acts } from "../../api/acts";
import { queries } from "../../api/queries";
import type { DeliveryRow } from "../../api/types";
import { fromNow } from "../../lib/text";
import { type Choice, RowButton, Select } from "../../ui/form";
import { Mark } from "../../ui/marks";
import { Empty, Foreign, Loaded, Trouble } from "../../ui/parts";
import { type Column, DataTable } from "../../ui/table";

const STATES: Choice[] = [
  ["", "all"],
  ["waiting", "waiting"],
  ["sent", "sent"],
  ["undeliverable", "undeliverable"],
];

/** What was sent to a webhook, or with 0 to everybody: the newest fifty, followed as they go out. */
export function Log({
  webhook,
  state,
  onState,
  onAll,
}: {
  webhook: number;
  state: string;
  onState: (state: string) => void;
  onAll: (() => void) | null;
}) {
  const client = useQueryClient();
  const rows = useQuery(queries.deliveries(webhook, state));
  const resend = useMutation({
    mutationFn: acts.resend,
    onSettled: () => client.invalidateQueries({ queryKey: ["deliveries"] }),
  });
  const columns: Column<DeliveryRow>[] = [
    {
      key: "made",
      title: "Made",
      value: (row) => row.made_at,
      nowrap: true,
      cell: (row) => fromNow(row.made_at, new Date()),
    },
    {
      key: "what",
      title: "Message",
      cell: (row) => (
        <>
          <Foreign text={row.words} />
          <div className="font-mono text-xs text-soft">{row.key}</div>
        </>
      ),
    },
    ...(webhook
      ? []
      : [{ key: "to", title: "To", cell: (row: DeliveryRow) => <Foreign text={row.to} /> }]),
    {
      key: "state",
      title: "State",
      value: (row) => row.state,
      cell: (row) => <State row={row} />,
    },
    {
      key: "acts",
      title: "",
      cell: (row) => (
        <RowButton of={row.key} onClick={() => resend.mutate(row.key)}>
          Send again
        </RowButton>
      ),
    },
  ];
  return (
    <section aria-labelledby="log" className="mt-8">
      <div className="mb-3 flex flex-wrap items-end justify-between gap-4">
        <h2 id="log" className="text-xl">
          {webhook ? `What was sent to webhook ${webhook}` : "What was sent, mail as well"}
        </h2>
        <div className="flex items-end gap-3">
          {onAll ? (
            <button type="button" className="button" data-size="small" onClick={onAll}>
              To everybody
            </button>
          ) : null}
          <Select
            label="State"
            choices={STATES}
            value={state}
            onChange={(event) => onState(event.target.value)}
          />
        </div>
      </div>
      {resend.error ? <Trouble error={resend.error} /> : null}
      <Loaded query={rows}>
        {(found) =>
          found.length ? (
            <DataTable
              label="What was sent"
              columns={columns}
              rows={found}
              rowKey={(row) => row.key}
              sort="-made"
            />
          ) : (
            <Empty>Nothing.</Empty>
          )
        }
      </Loaded>
    </section>
  );
}

const MARKS = {
  sent: ["disc", "moss"],
  waiting: ["ring", "amber"],
  undeliverable: ["triangle", "brick"],
} as const;

function State({ row }: { row: DeliveryRow }) {
  const [shape, tone] = MARKS[row.state];
  return (
    <>
      <Mark shape={shape} tone={tone}>
        {row.state}
      </Mark>
      <div className="text-sm text-soft">
        {row.error ? <Foreign text={row.error} /> : row.answer}
        {row.state === "waiting" && row.attempts
          ? `; tried ${row.attempts === 1 ? "once" : `${row.attempts} times`}, again ${fromNow(row.due_at, new Date())}`
          : ""}
      </div>
    </>
  );
}
