/** The find box of every page: the first hits while one types, all of them by Enter. */

import { useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { useKeys } from "../../lib/keys";
import { WhenTouched } from "../../ui/when-touched";
import type { Field } from "./first-hits";

export function FindBox() {
  const navigate = useNavigate();
  const input = useRef<HTMLInputElement>(null);
  const [text, setText] = useState("");
  useKeys(useMemo(() => ({ "/": () => input.current?.focus() }), []));
  const all = `/find?q=${encodeURIComponent(text)}`;
  function choose(path: string) {
    setText("");
    input.current?.blur();
    navigate(path);
  }
  const field: Field = {
    ref: input,
    "aria-label": "Find a tool by what it does",
    placeholder: "Find by what it does",
    autoComplete: "off",
    type: "search",
    value: text,
    onChange: (event) => setText(event.target.value),
    className: "w-full border-b border-soft bg-transparent px-1 py-1.5 placeholder:text-soft",
  };
  return (
    <search>
      <WhenTouched
        load={() => import("./first-hits").then((one) => one.FirstHits)}
        part={{ field, text, all, choose }}
        opens="ArrowDown"
        standIn={
          <input
            {...field}
            role="combobox"
            aria-expanded="false"
            aria-autocomplete="list"
            onKeyDown={(event) => {
              if (event.key === "Enter" && text.trim()) choose(all);
            }}
          />
        }
      />
    </search>
  );
}
