import type { ServerRow } from "../../api/types";
import type { Change } from "../../lib/params";
import { STATES, type Wanted } from "../../lib/spines";
import { type Choice, SearchField, Select } from "../../ui/form";

const TRANSPORTS: Record<string, string> = {
  stdio: "stdio",
  "streamable-http": "Streamable HTTP",
  "http+sse": "event stream (deprecated)",
};

/** Filters by what the rows hold; each change goes into the address. */
export function Filters({
  rows,
  wanted,
  onChange,
}: {
  rows: ServerRow[];
  wanted: Wanted;
  onChange: (change: Change) => void;
}) {
  const teams = new Map(rows.map((row) => [row.team_slug, row.team_title]));
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
        choices={[["", "all"], ...sortedPairs(teams)]}
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
        choices={[["", "all"], ...same(rows.flatMap((row) => row.tags))]}
        value={wanted.tag}
        onChange={choose("tag")}
      />
      <Select
        label="Data class"
        choices={[["", "all"], ...same(rows.map((row) => row.data_class))]}
        value={wanted.data}
        onChange={choose("data")}
      />
      <Select
        label="Transport"
        choices={[
          ["", "all"],
          ...same(rows.flatMap((row) => row.transports)).map(
            ([one]) => [one, TRANSPORTS[one] ?? one] as const,
          ),
        ]}
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

const same = (values: string[]): Choice[] =>
  [...new Set(values)].sort().map((one) => [one, one] as const);

const sortedPairs = (pairs: Map<string, string>): Choice[] =>
  [...pairs].sort(([, left], [, right]) => left.localeCompare(right));
