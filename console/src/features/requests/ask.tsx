import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { acts } from "../../api/shelf";
import { DATA_CLASSES, type NewRequest } from "../../api/types";
import { FormDialog } from "../../ui/dialog";
import { Select, TextArea, TextField } from "../../ui/form";

export type Wish = { server: string; version?: string; item?: string; now?: string } & {
  kind: NewRequest["kind"];
};

const WORDS: Record<NewRequest["kind"], { title: string; about: string }> = {
  deprecate: {
    title: "Ask to deprecate",
    about:
      "Once the desks agree it can still be connected to, with a warning; programs see it in the headers of every answer.",
  },
  withdraw: {
    title: "Ask to withdraw",
    about: "Once the desks agree nobody is given its connection block any more.",
  },
  lift: {
    title: "Ask to lift the suspension of",
    about: "It stands until the desks agree that it ends.",
  },
  "data-class": {
    title: "Ask for another data class of",
    about: "The desks see what the current release is found to be under the new class.",
  },
};

/** Asks for an act on a release or server; the desks that the route names must agree to it. */
export function AskDialog({ wish, onClose }: { wish: Wish | null; onClose: () => void }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const ask = useMutation({
    mutationFn: (form: FormData) => acts.ask(body(wish, form)),
    onSuccess: (found) => {
      client.invalidateQueries();
      onClose();
      navigate(`/requests/${found.id}`);
    },
  });
  const kind = wish?.kind ?? "withdraw";
  return (
    <FormDialog
      title={`${WORDS[kind].title} ${[wish?.server, wish?.version, wish?.item].filter(Boolean).join(" ")}`}
      open={wish !== null}
      onClose={onClose}
      onSend={ask.mutate}
      send="Ask for it"
      busy={ask.isPending}
      error={ask.error}
    >
      <p>{WORDS[kind].about}</p>
      <TextArea label="Why" name="reason" required maxLength={2000} />
      {kind === "data-class" ? (
        <Select
          label="Data class"
          name="data_class"
          choices={DATA_CLASSES.filter((one) => one !== wish?.now).map(
            (one) => [one, one] as const,
          )}
        />
      ) : null}
      {kind === "deprecate" ? (
        <>
          <TextField
            label="Not to be used after"
            name="last"
            type="date"
            min={new Date(Date.now() + 86_400_000).toISOString().slice(0, 10)}
            hint="May be left out."
          />
          <TextField
            label="Use instead"
            name="replacement"
            className="font-mono"
            hint="A server, or server@version; may be left out."
          />
        </>
      ) : null}
    </FormDialog>
  );
}

function body(wish: Wish | null, form: FormData): NewRequest {
  const text = (name: string) => String(form.get(name) ?? "").trim();
  const last = text("last");
  return {
    kind: wish?.kind ?? "withdraw",
    server: wish?.server ?? "",
    version: wish?.version ?? "",
    item: wish?.item ?? "",
    reason: text("reason"),
    replacement: text("replacement"),
    data_class: text("data_class"),
    sunset_at: last ? `${last}T23:59:59Z` : null,
  };
}
