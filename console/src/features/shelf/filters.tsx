import { DATA_CLASSES, type ShelfPicture } from "../../api/types";
import type { Change } from "../../lib/params";
import { STATES, type Wanted } from "../../lib/spines";
import { type Choice, SearchField, Select } from "../../ui/form";

const TRANSPORTS: Choice[] = [
  ["stdio", "stdio"],
  ["streamable-http", "Streamable HTTP"],
  ["http+sse", "event stream (deprecated)"],
];

/** Filters by what the shelf holds; each change goes into the address. */
export function Filters({
  found,
  wanted,
  onChange,
}: {
  found: ShelfPicture;
  wanted: Wanted;
  onChange: (change: Change) => void;
}) {
  const teams = found.teams.map((one) => [one.slug, one.title] as const);
  const choose = (name: string) => (event: React.ChangeEvent<HTMLSelectElement>) =>
    onChange({ [name]: event.target.value, page: null });
  const active = Object.values(wanted).some(Boolean);
  return (
    <fieldset className="mb-6 grid grid-cols-2 items-end gap-x-4 gap-y-3 sm:grid-cols-3 lg:grid-cols-[2fr_1fr_1fr_1fr_1fr_1fr_auto]">
      <legend className="sr-only">Which servers</legend>
      <div className="col-span-2 sm:col-span-1">
        <SearchField
          label="Name, team or tag"
          value={wanted.name}
          onSearch={(name) => onChange({ name, page: null })}
        />
      </div>
      <Select
        label="Team"
        choices={[["", "all"], ...sortedByWords(teams)]}
        value={wanted.team}
        onChange={choose("team")}
      />
      <Select
        label="State"
        choices={[["", "all"], ...Object.entries(STATES)]}
        value={wanted.state}
        onChange={choose("state")}
      />
      <Select
        label="Tag"
        choices={[["", "all"], ...same(found.tags)]}
        value={wanted.tag}
        onChange={choose("tag")}
      />
      <Select
        label="Data class"
        choices={[["", "all"], ...same(DATA_CLASSES)]}
        value={wanted.data}
        onChange={choose("data")}
      />
      <Select
        label="Transport"
        choices={[["", "all"], ...TRANSPORTS]}
        value={wanted.transport}
        onChange={choose("transport")}
      />
      <button
        type="button"
        className="button"
        disabled={!active}
        onClick={() =>
          onChange({
            ...Object.fromEntries(Object.keys(wanted).map((one) => [one, null])),
            page: null,
          })
        }
      >
        Show all
      </button>
    </fieldset>
  );
}

const same = (values: readonly string[]): Choice[] => values.map((one) => [one, one] as const);

const sortedByWords = (choices: Choice[]): Choice[] =>
  choices.sort(([, left], [, right]) => left.localeCompare(right));
