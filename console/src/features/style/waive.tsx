/** Asking for a waiver where the finding stands, and what is known of one that acts there. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, useContext, useState } from "react";
import { Link } from "react-router";
import { acts } from "../../api/acts";
import { queries } from "../../api/queries";
import type { Finding } from "../../api/types";
import { day } from "../../lib/text";
import { FormDialog } from "../../ui/dialog";
import { TextArea, TextField } from "../../ui/form";
import { Foreign } from "../../ui/parts";

/** The server that is looked at, and whether the one who looks may ask for waivers there. */
export const Waiving = createContext<{ server: string; may: boolean }>({ server: "", may: false });

const YEAR = 365 * 24 * 3600_000;
const dayFrom = (moment: number) => new Date(moment).toISOString().slice(0, 10);

export function Waived({ finding }: { finding: Finding }) {
  const { server } = useContext(Waiving);
  const waivers = useQuery({ ...queries.waivers({ server }), enabled: finding.waived !== null });
  const waiver = waivers.data?.find((one) => String(one.id) === finding.waived);
  if (finding.known) return <p className="text-soft">known, and so does not count</p>;
  if (!finding.waived) return null;
  return (
    <p className="text-soft">
      waived
      {waiver ? (
        <>
          {" "}
          until {day(waiver.until)} by {waiver.answered_by}: “<Foreign text={waiver.reason} />”
        </>
      ) : null}
    </p>
  );
}

export function WaiveButton({ finding }: { finding: Finding }) {
  const { server, may } = useContext(Waiving);
  const [open, setOpen] = useState(false);
  const waivers = useQuery({ ...queries.waivers({ server }), enabled: may });
  const asked = waivers.data?.find(
    (one) =>
      one.state === "asked" &&
      one.rule === finding.rule &&
      one.item === finding.item &&
      (one.pointer === null || one.pointer === finding.pointer),
  );
  if (asked) {
    return (
      <p className="text-soft">
        <Link to="/waivers?state=asked">a waiver</Link> was asked for by {asked.asked_by}
      </p>
    );
  }
  if (!may || finding.waived || finding.known || finding.level === "note") return null;
  return (
    <>
      <button type="button" className="plain" onClick={() => setOpen(true)}>
        Ask for a waiver
        <span className="sr-only"> of {finding.rule}</span>
      </button>
      <WaiveDialog server={server} finding={finding} open={open} onClose={() => setOpen(false)} />
    </>
  );
}

function WaiveDialog({
  server,
  finding,
  open,
  onClose,
}: {
  server: string;
  finding: Finding;
  open: boolean;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const ask = useMutation({
    mutationFn: (form: FormData) =>
      acts.askWaiver({
        server,
        rule: finding.rule,
        item: finding.item,
        pointer: form.get("everywhere") ? null : finding.pointer,
        reason: String(form.get("reason")),
        until: `${form.get("until")}T23:59:59Z`,
      }),
    onSuccess: () => {
      client.invalidateQueries({ queryKey: ["waivers"] });
      onClose();
    },
  });
  const now = Date.now();
  return (
    <FormDialog
      title="Ask for a waiver"
      open={open}
      onClose={onClose}
      onSend={ask.mutate}
      send="Ask for it"
      busy={ask.isPending}
      error={ask.error}
    >
      <p>
        <span className="font-mono">{finding.rule}</span> at{" "}
        <span className="font-mono wrap-anywhere">
          <Foreign text={`${finding.item}${finding.pointer}`} />
        </span>
        : <Foreign text={finding.message} />
      </p>
      <TextArea label="Why it should not count here" name="reason" required maxLength={2000} />
      <TextField
        label="Until"
        name="until"
        type="date"
        required
        min={dayFrom(now)}
        max={dayFrom(now + YEAR)}
        defaultValue={dayFrom(now + YEAR / 4)}
        hint="At most a year ahead; then it counts again."
      />
      <label className="flex items-center gap-2">
        <input type="checkbox" name="everywhere" className="size-4 accent-act" />
        Anywhere in this item
      </label>
      <p className="text-soft">
        A curator, or a desk that is asked about the release, grants it; never you.
      </p>
    </FormDialog>
  );
}
