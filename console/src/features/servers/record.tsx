/** What the catalog says about a server; each line can be edited where it stands. */

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, type ReactNode, useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { acts } from "../../api/acts";
import type { ServerDetail, ServerEdit } from "../../api/types";
import { useUnsaved } from "../../ui/unsaved";
import { Foreign, Trouble } from "../../ui/parts";
import { AskDialog, type Wish } from "../requests/ask";

type Field = "title" | "contact" | "source_link" | "tags" | "data_class" | "scheme" | "use";

/** What takes a request to be changed, with its kind. */
const ASKED: Partial<Record<Field, Wish["kind"]>> = {
  data_class: "data-class",
  scheme: "version-scheme",
};

const SCHEMES = {
  semver: "SemVer",
  calendar: "calendar versions, declared to break or not",
};

const USES = {
  open: "freely, by kits of any team",
  ask: "kits of other teams ask its owners",
  "": "freely, so far",
};

interface About {
  name: Field;
  label: string;
  shown: ReactNode;
  text: string;
}

export function ServerRecord({ server }: { server: ServerDetail }) {
  const [editing, setEditing] = useState<Field | null>(null);
  const [asking, setAsking] = useState<Wish["kind"] | null>(null);
  const fields: About[] = [
    { name: "title", label: "Title", shown: <Foreign text={server.title} />, text: server.title },
    {
      name: "contact",
      label: "Contact",
      shown: <Foreign text={server.contact} />,
      text: server.contact,
    },
    {
      name: "source_link",
      label: "Source",
      shown: server.source_link ? (
        <a href={server.source_link} rel="noreferrer noopener" className="wrap-anywhere">
          {server.source_link.replace(/^https?:\/\//, "")}
        </a>
      ) : (
        <span className="text-soft">none given</span>
      ),
      text: server.source_link,
    },
    {
      name: "tags",
      label: "Tags",
      shown: server.tags.length ? (
        <span className="flex flex-wrap gap-x-3">
          {server.tags.map((tag) => (
            <Link key={tag} to={`/?tag=${encodeURIComponent(tag)}`}>
              {tag}
            </Link>
          ))}
        </span>
      ) : (
        <span className="text-soft">none</span>
      ),
      text: server.tags.join(" "),
    },
    {
      name: "data_class",
      label: "Data class",
      shown: server.data_class,
      text: server.data_class,
    },
    {
      name: "scheme",
      label: "Versions",
      shown: SCHEMES[server.scheme],
      text: server.scheme,
    },
    { name: "use", label: "Used", shown: USES[server.use], text: server.use },
  ];
  return (
    <section aria-labelledby="record">
      <h2 id="record" className="mb-2 text-xl">
        About it
      </h2>
      <dl className="divide-y divide-rule border-y border-rule">
        <div className="grid grid-cols-[6.5rem_1fr] gap-x-3 py-2">
          <dt className="text-soft">Owner</dt>
          <dd>
            <Link to={`/?team=${server.team_slug}`}>{server.team_title}</Link>
          </dd>
        </div>
        {fields.map((field) => (
          <div key={field.name} className="grid grid-cols-[6.5rem_1fr] gap-x-3 py-2">
            <dt className="text-soft">{field.label}</dt>
            <dd>
              {editing === field.name ? (
                <EditForm server={server} field={field} onDone={() => setEditing(null)} />
              ) : (
                <span className="grid grid-cols-[1fr_auto] items-baseline gap-x-3">
                  <span>{field.shown}</span>
                  {ASKED[field.name] && server.may_ask ? (
                    <button
                      type="button"
                      className="plain text-sm"
                      onClick={() => setAsking(ASKED[field.name] ?? null)}
                    >
                      Ask for another
                      <span className="sr-only"> {field.label.toLowerCase()}</span>
                    </button>
                  ) : server.may_edit.includes(field.name) ? (
                    <button
                      type="button"
                      className="plain text-sm"
                      onClick={() => setEditing(field.name)}
                    >
                      Edit<span className="sr-only"> {field.label.toLowerCase()}</span>
                    </button>
                  ) : null}
                </span>
              )}
            </dd>
          </div>
        ))}
      </dl>
      <AskDialog
        wish={
          asking
            ? {
                kind: asking,
                server: server.slug,
                now: asking === "data-class" ? server.data_class : server.scheme,
              }
            : null
        }
        onClose={() => setAsking(null)}
      />
    </section>
  );
}

function EditForm({
  server,
  field,
  onDone,
}: {
  server: ServerDetail;
  field: About;
  onDone: () => void;
}) {
  const client = useQueryClient();
  const [text, setText] = useState(field.name === "use" ? field.text || "open" : field.text);
  const input = useRef<HTMLInputElement>(null);
  const save = useMutation({
    mutationFn: () => acts.edit(server, change(field.name, text)),
    onSuccess: (found) => {
      client.setQueryData(["server", server.slug], found);
      client.invalidateQueries({ queryKey: ["servers"] });
      onDone();
    },
    onError: () => client.invalidateQueries({ queryKey: ["server", server.slug] }),
  });
  useUnsaved(text !== field.text && !save.isSuccess);
  useEffect(() => input.current?.focus(), []);
  function submit(event: FormEvent) {
    event.preventDefault();
    if (text === field.text) onDone();
    else save.mutate();
  }
  const about = {
    ref: input,
    "aria-label": field.label,
    className: "field",
    value: text,
    onKeyDown: (event: React.KeyboardEvent) => {
      if (event.key === "Escape") onDone();
    },
  };
  return (
    <form onSubmit={submit} className="space-y-2">
      {field.name === "use" ? (
        <select
          aria-label={field.label}
          className="field"
          value={text}
          onChange={(event) => setText(event.target.value)}
        >
          <option value="open">{USES.open}</option>
          <option value="ask">{USES.ask}</option>
        </select>
      ) : (
        <input
          {...about}
          required={field.name === "title" || field.name === "contact"}
          type={field.name === "source_link" ? "url" : "text"}
          onChange={(event) => setText(event.target.value)}
        />
      )}
      {save.error ? <Trouble error={save.error} /> : null}
      <span className="flex gap-3">
        <button
          type="submit"
          className="button"
          data-kind="main"
          data-size="small"
          disabled={save.isPending}
        >
          Save
        </button>
        <button type="button" className="button" data-size="small" onClick={onDone}>
          Cancel
        </button>
      </span>
    </form>
  );
}

function change(name: Field, text: string): ServerEdit {
  if (name === "tags") return { tags: text.split(/[\s,]+/).filter(Boolean) };
  return { [name]: text.trim() };
}
