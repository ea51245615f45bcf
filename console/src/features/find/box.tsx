/** The find box of every page: the first hits while one types, all of them by Enter. */

import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { queries } from "../../api/queries";
import type { Hit } from "../../api/types";
import { useKeys } from "../../lib/keys";
import { useSettled } from "../../lib/settled";
import { hitPath, Marked } from "./hit";

type Chosen = { to: string } | null;

export function FindBox() {
  const navigate = useNavigate();
  const input = useRef<HTMLInputElement>(null);
  const [text, setText] = useState("");
  const asked = useSettled(text, 180);
  const found = useQuery({ ...queries.firstHits(asked), placeholderData: keepPreviousData });
  useKeys(useMemo(() => ({ "/": () => input.current?.focus() }), []));
  const all = `/find?q=${encodeURIComponent(text)}`;
  function choose(chosen: Chosen) {
    if (!chosen) return;
    setText("");
    input.current?.blur();
    navigate(chosen.to);
  }
  const hits = text.trim() ? (found.data?.results ?? []) : [];
  return (
    <search>
      <Combobox<Chosen> value={null} onChange={choose} onClose={() => undefined} immediate={false}>
        <ComboboxInput
          ref={input}
          aria-label="Find a tool by what it does"
          placeholder="Find by what it does"
          autoComplete="off"
          type="search"
          value={text}
          onChange={(event) => setText(event.target.value)}
          className="w-full border-b border-soft bg-transparent px-1 py-1.5 placeholder:text-soft"
        />
        <ComboboxOptions
          anchor={{ to: "bottom end", gap: 6 }}
          modal={false}
          className="z-10 w-(--input-width) min-w-72 border border-rule bg-sheet py-1 shadow-lg outline-none empty:invisible"
        >
          {text.trim() ? (
            <ComboboxOption
              value={{ to: all }}
              className="cursor-pointer px-3 py-2 text-act data-focus:bg-paper data-focus:underline"
            >
              All that does “{text}”
            </ComboboxOption>
          ) : null}
          {hits.map((hit) => (
            <ComboboxOption
              key={`${hit.server} ${hit.item}`}
              value={{ to: hitPath(hit) }}
              className="cursor-pointer px-3 py-1.5 data-focus:bg-paper"
            >
              <FirstHit hit={hit} />
            </ComboboxOption>
          ))}
        </ComboboxOptions>
      </Combobox>
    </search>
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
