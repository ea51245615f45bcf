import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import type { ChangeEvent, RefObject } from "react";
import { queries } from "../../api/queries";
import type { Hit } from "../../api/types";
import { useSettled } from "../../lib/settled";
import { hitPath, Marked } from "./hit";

export type Field = {
  ref: RefObject<HTMLInputElement | null>;
  "aria-label": string;
  placeholder: string;
  autoComplete: string;
  type: string;
  value: string;
  onChange: (event: ChangeEvent<HTMLInputElement>) => void;
  className: string;
};

/** The field of the find box with the first hits under it; `all` is where all of them are. */
export function FirstHits({
  field,
  text,
  all,
  choose,
}: {
  field: Field;
  text: string;
  all: string;
  choose: (path: string) => void;
}) {
  const asked = useSettled(text, 180);
  const found = useQuery({ ...queries.firstHits(asked), placeholderData: keepPreviousData });
  const hits = text.trim() ? (found.data?.results ?? []) : [];
  return (
    <Combobox<string | null>
      value={null}
      onChange={(path) => (path ? choose(path) : undefined)}
      onClose={() => undefined}
      immediate={false}
    >
      <ComboboxInput {...field} />
      <ComboboxOptions
        anchor={{ to: "bottom end", gap: 6 }}
        modal={false}
        className="z-10 w-(--input-width) min-w-72 border border-rule bg-sheet py-1 shadow-lg outline-none empty:invisible"
      >
        {text.trim() ? (
          <ComboboxOption
            value={all}
            className="cursor-pointer px-3 py-2 text-act data-focus:bg-paper data-focus:underline"
          >
            All that does “{text}”
          </ComboboxOption>
        ) : null}
        {hits.map((hit) => (
          <ComboboxOption
            key={`${hit.server} ${hit.item}`}
            value={hitPath(hit)}
            className="cursor-pointer px-3 py-1.5 data-focus:bg-paper"
          >
            <FirstHit hit={hit} />
          </ComboboxOption>
        ))}
      </ComboboxOptions>
    </Combobox>
  );
}

function FirstHit({ hit }: { hit: Hit }) {
  return (
    <>
      <span className="block font-mono text-sm wrap-anywhere">
        <Marked pieces={hit.name} />
      </span>
      <span className="block text-sm text-soft">
        {hit.kind === "server" ? `server of ${hit.team_title}` : `${hit.kind} of ${hit.server}`}
      </span>
    </>
  );
}
