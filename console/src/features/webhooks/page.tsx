/** Webhooks: where events are sent, how that goes, and what became of each message. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { acts } from "../../api/acts";
import { queries } from "../../api/queries";
import type { MadeWebhook, Me, WebhookRow } from "../../api/types";
import { useParamsOf } from "../../lib/params";
import { fromNow, plural } from "../../lib/text";
import { FormDialog } from "../../ui/dialog";
import { type Choice, RowButton, Select, TextArea, TextField } from "../../ui/form";
import { Mark } from "../../ui/marks";
import { Once } from "../../ui/once";
import { Empty, Foreign, Heading, Loaded, Trouble } from "../../ui/parts";
import { type Column, DataTable } from "../../ui/table";
import { Log } from "./log";

export function Component() {
  const me = useQuery(queries.me());
  const [making, setMaking] = useState(false);
  const [made, setMade] = useState<MadeWebhook | null>(null);
  const teams = useQuery(queries.teams());
  return (
    <>
      <Heading
        title="Webhooks"
        aside={
          <button type="button" className="button" data-kind="main" onClick={() => setMaking(true)}>
            Make a webhook
          </button>
        }
      >
        Events are sent as they happen, signed; an address that fails is tried again for nearly a
        day.
      </Heading>
      {made ? (
        <Once
          words={`The secret of webhook ${made.id}.`}
          text={made.secret}
          label="The secret"
          onSeen={() => setMade(null)}
        />
      ) : null}
      <Webhooks onMade={setMade} />
      {me.data ? <Messages me={me.data} /> : null}
      {me.data && teams.data ? (
        <MakeDialog
          open={making}
          teams={mine(
            me.data,
            teams.data.map((one) => one.slug),
          )}
          onClose={() => setMaking(false)}
          onMade={setMade}
        />
      ) : null}
    </>
  );
}

function mine(me: Me, teams: string[]): string[] {
  return me.role === "curator" || me.role === "steward" ? teams : me.teams;
}

function Webhooks({ onMade }: { onMade: (made: MadeWebhook) => void }) {
  const client = useQueryClient();
  const rows = useQuery(queries.webhooks());
  const [, write] = useParamsOf();
  const [ending, setEnding] = useState<WebhookRow | null>(null);
  const settle = {
    onSettled: () => {
      client.invalidateQueries({ queryKey: ["webhooks"] });
      client.invalidateQueries({ queryKey: ["deliveries"] });
    },
  };
  const rotate = useMutation({ mutationFn: acts.rotateWebhook, onSuccess: onMade, ...settle });
  const tried = useMutation({ mutationFn: acts.tryWebhook, ...settle });
  const columns: Column<WebhookRow>[] = [
    { key: "id", title: "No.", number: true, value: (row) => row.id, cell: (row) => row.id },
    {
      key: "address",
      title: "Address",
      value: (row) => row.address,
      cell: (row) => (
        <>
          <span className="font-mono text-sm wrap-anywhere">
            <Foreign text={row.address} />
          </span>
          <div className="text-sm text-soft">
            {row.about === "team" ? `what concerns ${row.team}` : `${row.team}, and the catalog`}
            {row.types.length ? `: ${row.types.join(", ")}` : ""}
          </div>
        </>
      ),
    },
    { key: "state", title: "How it goes", value: rank, cell: (row) => <Standing row={row} /> },
    {
      key: "acts",
      title: "",
      cell: (row) => (
        <div className="flex flex-wrap gap-2">
          <RowButton onClick={() => write({ of: String(row.id) })} of={`of webhook ${row.id}`}>
            Log
          </RowButton>
          {row.may_keep ? (
            <>
              <RowButton onClick={() => tried.mutate(row.id)} of={`of webhook ${row.id}`}>
                Try
              </RowButton>
              <RowButton onClick={() => rotate.mutate(row.id)} of={`of webhook ${row.id}`}>
                New secret
              </RowButton>
              <RowButton grave onClick={() => setEnding(row)} of={`of webhook ${row.id}`}>
                End
              </RowButton>
            </>
          ) : null}
        </div>
      ),
    },
  ];
  return (
    <>
      {rotate.error || tried.error ? <Trouble error={rotate.error ?? tried.error} /> : null}
      <Loaded query={rows}>
        {(found) =>
          found.length ? (
            <DataTable
              label="Webhooks"
              columns={columns}
              rows={found}
              rowKey={(row) => row.id}
              sort="state"
            />
          ) : (
            <Empty>No team of yours has one.</Empty>
          )
        }
      </Loaded>
      <EndDialog row={ending} onClose={() => setEnding(null)} />
    </>
  );
}

function rank(row: WebhookRow): number {
  return row.ended_at ? 2 : row.failures ? 0 : 1;
}

function Standing({ row }: { row: WebhookRow }) {
  if (row.ended_at) {
    return (
      <>
        <Mark shape="ring" tone="soft">
          ended
        </Mark>
        <div className="text-sm text-soft">
          <Foreign text={row.end_reason} />
        </div>
      </>
    );
  }
  const counts = [
    row.waiting ? `${plural(row.waiting, "message")} waiting` : "",
    row.lost ? `${row.lost} could not be delivered` : "",
  ].filter(Boolean);
  return (
    <>
      {row.failures ? (
        <Mark shape="triangle" tone="amber">
          failed {row.failures === 1 ? "once" : `${row.failures} times`}
        </Mark>
      ) : (
        <Mark shape="disc" tone="moss">
          works
        </Mark>
      )}
      <div className="text-sm text-soft">
        {row.resting_until && row.failures
          ? `tried again ${fromNow(row.resting_until, new Date())}; `
          : ""}
        {counts.join(", ")}
      </div>
    </>
  );
}

function EndDialog({ row, onClose }: { row: WebhookRow | null; onClose: () => void }) {
  const client = useQueryClient();
  const end = useMutation({
    mutationFn: (reason: string) => acts.endWebhook(row?.id ?? 0, reason),
    onSuccess: () => {
      client.invalidateQueries({ queryKey: ["webhooks"] });
      onClose();
    },
  });
  return (
    <FormDialog
      title={`End webhook ${row?.id ?? ""}`}
      open={row !== null}
      onClose={onClose}
      onSend={(form) => end.mutate(String(form.get("reason")))}
      send="End it"
      grave
      busy={end.isPending}
      error={end.error}
    >
      <p>Nothing more is sent there, nor what waits.</p>
      <TextArea label="Reason" name="reason" required maxLength={300} />
    </FormDialog>
  );
}

const ABOUT: Choice[] = [
  ["team", "what concerns the team"],
  ["catalog", "all that is published as well"],
];

function MakeDialog({
  open,
  teams,
  onClose,
  onMade,
}: {
  open: boolean;
  teams: string[];
  onClose: () => void;
  onMade: (made: MadeWebhook) => void;
}) {
  const client = useQueryClient();
  const make = useMutation({
    mutationFn: acts.makeWebhook,
    onSuccess: (made) => {
      client.invalidateQueries({ queryKey: ["webhooks"] });
      onMade(made);
      onClose();
    },
  });
  return (
    <FormDialog
      title="Make a webhook"
      open={open}
      onClose={onClose}
      onSend={(form) =>
        make.mutate({
          team: String(form.get("team")),
          address: String(form.get("address")).trim(),
          about: String(form.get("about")) as "team" | "catalog",
          types: String(form.get("types"))
            .split(/[\s,]+/)
            .filter(Boolean),
        })
      }
      send="Make it"
      busy={make.isPending}
      error={make.error}
    >
      <Select label="Team" name="team" choices={teams.map((one) => [one, one])} />
      <TextField
        label="Address"
        name="address"
        type="url"
        required
        maxLength={500}
        hint="Of an origin that the service's settings allow."
      />
      <Select label="What is sent" name="about" choices={ABOUT} />
      <TextField
        label="Types of events (optional)"
        name="types"
        hint="Such as release.published, server.suspended; all without any."
      />
    </FormDialog>
  );
}

function Messages({ me }: { me: Me }) {
  const [read, write] = useParamsOf();
  const chosen = Number(read("of"));
  if (!chosen && me.role !== "steward") return null;
  return (
    <Log
      webhook={chosen}
      state={read("sent")}
      onState={(state) => write({ sent: state || null })}
      onAll={chosen && me.role === "steward" ? () => write({ of: null }) : null}
    />
  );
}
