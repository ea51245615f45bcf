import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { acts } from "../../api/acts";
import type { KindOfRequest, NewRequest } from "../../api/types";
import { FormDialog } from "../../ui/dialog";
import { Ending } from "../../ui/ending";
import { Select, TextArea, TextField } from "../../ui/form";
import { useKind } from "./kinds";

export type Wish = { server: string; version?: string; item?: string; now?: string } & {
  kind: NewRequest["kind"];
};

/** What ends the use of a release: whom that hits is shown beforehand. */
const ENDS = new Set<NewRequest["kind"]>(["deprecate", "deprecate-item", "withdraw"]);

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
  const kind = useKind(wish?.kind ?? "withdraw");
  return (
    <FormDialog
      title={`Ask to ${kind?.verb ?? ""} ${[wish?.server, wish?.version, wish?.item].filter(Boolean).join(" ")}`}
      open={wish !== null}
      onClose={onClose}
      onSend={ask.mutate}
      send="Ask for it"
      busy={ask.isPending}
      error={ask.error}
    >
      <p>{kind?.about}</p>
      {wish && ENDS.has(wish.kind) ? (
        <Ending server={wish.server} version={wish.version ?? ""} item={wish.item ?? ""} />
      ) : null}
      <TextArea label="Why" name="reason" required maxLength={2000} />
      {kind?.terms.map((term) => (
        <TermField key={term.name} term={term} now={wish?.now} />
      ))}
    </FormDialog>
  );
}

/** One term of a request, in the form that its kind gives it; what holds now is no choice. */
function TermField({
  term,
  now,
}: {
  term: KindOfRequest["terms"][number];
  now: string | undefined;
}) {
  if (term.form === "choice") {
    const choices = term.choices.filter((one) => one !== now).map((one) => [one, one] as const);
    return <Select label={term.label} name={term.name} choices={choices} />;
  }
  if (term.form === "date") {
    const tomorrow = new Date(Date.now() + 86_400_000).toISOString().slice(0, 10);
    return (
      <TextField label={term.label} name={term.name} type="date" min={tomorrow} hint={term.hint} />
    );
  }
  return <TextField label={term.label} name={term.name} className="font-mono" hint={term.hint} />;
}

function body(wish: Wish | null, form: FormData): NewRequest {
  const text = (name: string) => String(form.get(name) ?? "").trim();
  const last = text("sunset_at");
  return {
    kind: wish?.kind ?? "withdraw",
    server: wish?.server ?? "",
    version: wish?.version ?? "",
    item: wish?.item ?? "",
    reason: text("reason"),
    replacement: text("replacement"),
    data_class: text("data_class"),
    scheme: text("scheme"),
    sunset_at: last ? `${last}T23:59:59Z` : null,
  };
}
