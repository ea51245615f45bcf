/** Follow-ups: what reviewers agreed under, until it is done. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { acts } from "../../api/acts";
import { queries } from "../../api/queries";
import type { FollowUpRow } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { day } from "../../lib/text";
import { FormDialog } from "../../ui/dialog";
import { Select, TextArea } from "../../ui/form";
import { Mark } from "../../ui/marks";
import { Empty, Foreign, Heading, Loaded } from "../../ui/parts";
import { type Column, DataTable } from "../../ui/table";
import { Tabs } from "../../ui/tabs";
import { REQUEST_PAGES } from "./pages";

const STATES = [
  ["", "open"],
  ["closed", "closed"],
] as const;

export function Component() {
  const [read, write] = useParamsOf();
  const state = read("state");
  const found = useQuery(queries.followUps(state || "open"));
  const [closing, setClosing] = useState<FollowUpRow | null>(null);
  return (
    <>
      <Heading title="Follow-ups">
        Conditions that reviewers agreed under: something that its owner does by a day.
      </Heading>
      <Tabs label="Requests" pages={REQUEST_PAGES} />
      <div className="mb-6 max-w-xs">
        <Select
          label="State"
          choices={STATES}
          value={state}
          onChange={(event) => write({ state: event.target.value, page: null })}
        />
      </div>
      <Loaded query={found}>
        {(rows) =>
          rows.length === 0 ? (
            <Empty>{state ? "None was closed yet." : "Nothing is open."}</Empty>
          ) : (
            <DataTable
              label="Follow-ups"
              columns={columns(setClosing)}
              rows={rows}
              rowKey={(row) => row.id}
              sort="due"
            />
          )
        }
      </Loaded>
      <CloseDialog one={closing} onClose={() => setClosing(null)} />
    </>
  );
}

const columns = (close: (one: FollowUpRow) => void): Column<FollowUpRow>[] => [
  {
    key: "what",
    title: "What",
    value: (row) => row.text,
    cell: (row) => (
      <>
        <Foreign text={row.text} />
        {row.closing_note ? (
          <div className="text-sm text-soft">
            {row.closed_by}: <Foreign text={row.closing_note} />
          </div>
        ) : null}
      </>
    ),
  },
  {
    key: "of",
    title: "Of",
    value: (row) => `${row.server} ${row.version}`,
    nowrap: true,
    cell: (row) => (
      <Link to={`/requests/${row.request}`} className="font-mono">
        {row.server} {row.version}
      </Link>
    ),
  },
  {
    key: "owner",
    title: "Owner",
    value: (row) => row.owner,
    nowrap: true,
    cell: (row) => row.owner,
  },
  {
    key: "by",
    title: "Asked by",
    value: (row) => row.asked_by,
    nowrap: true,
    cell: (row) => row.asked_by,
  },
  {
    key: "due",
    title: "Due",
    value: (row) => row.due,
    nowrap: true,
    cell: (row) =>
      !row.closed_at && new Date(`${row.due}T23:59:59Z`) < new Date() ? (
        <Mark shape="triangle" tone="amber">
          overdue, {day(row.due)}
        </Mark>
      ) : (
        day(row.due)
      ),
  },
  {
    key: "close",
    title: "Act",
    value: () => "",
    nowrap: true,
    cell: (row) =>
      row.may_close ? (
        <button type="button" className="button" data-size="small" onClick={() => close(row)}>
          Close<span className="sr-only"> follow-up {row.id}</span>
        </button>
      ) : null,
  },
];

function CloseDialog({ one, onClose }: { one: FollowUpRow | null; onClose: () => void }) {
  const client = useQueryClient();
  const close = useMutation({
    mutationFn: (note: string) => acts.closeFollowUp(one?.id ?? 0, note),
    onSuccess: () => {
      client.invalidateQueries();
      onClose();
    },
  });
  return (
    <FormDialog
      title="Close the follow-up"
      open={one !== null}
      onClose={onClose}
      onSend={(form) => close.mutate(String(form.get("note") ?? ""))}
      send="Close it"
      busy={close.isPending}
      error={close.error}
    >
      <p>
        <Foreign text={one?.text ?? ""} />
      </p>
      <TextArea label="What was done" name="note" required maxLength={2000} />
    </FormDialog>
  );
}
