import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { type FormEvent, useId, useState } from "react";
import { queries } from "../../api/queries";
import { useParamsOf } from "../../lib/params";
import { useSettled } from "../../lib/settled";
import { Select } from "../../ui/form";

/** Choose two releases: a server first, then two of its versions. */
export function Choose({ old, now }: { old: string; now: string }) {
  const [, write] = useParamsOf();
  const list = useId();
  const [slug, setSlug] = useState((now || old).split("@")[0] ?? "");
  const [from, setFrom] = useState(old.split("@")[1] ?? "");
  const [to, setTo] = useState(now.split("@")[1] ?? "");
  const servers = useQuery({
    ...queries.firstServers(useSettled(slug, 180)),
    placeholderData: keepPreviousData,
  });
  const known = servers.data?.some((row) => row.slug === slug) ?? false;
  const server = useQuery({ ...queries.server(slug), enabled: known });
  const versions = known ? (server.data?.releases ?? []) : [];
  const has = (version: string) => versions.some((one) => one.version === version);
  const newer = has(to) ? to : (versions[0]?.version ?? "");
  const older = has(from) ? from : (versions[1]?.version ?? newer);
  const choices = versions.map((one) => [one.version, `${one.version}, ${one.state}`] as const);
  function submit(event: FormEvent) {
    event.preventDefault();
    write({ old: `${slug}@${older}`, new: `${slug}@${newer}` }, "push");
  }
  return (
    <form
      onSubmit={submit}
      className="grid max-w-4xl items-end gap-4 sm:grid-cols-[2fr_1fr_1fr_auto]"
    >
      <label>
        <span className="mb-1 block">Server</span>
        <input
          list={list}
          className="field font-mono"
          required
          value={slug}
          onChange={(event) => setSlug(event.target.value.trim())}
        />
        <datalist id={list}>
          {(servers.data ?? []).map((row) => (
            <option key={row.slug} value={row.slug}>
              {row.title}
            </option>
          ))}
        </datalist>
      </label>
      <Select
        label="Old"
        choices={choices}
        value={older}
        onChange={(event) => setFrom(event.target.value)}
      />
      <Select
        label="New"
        choices={choices}
        value={newer}
        onChange={(event) => setTo(event.target.value)}
      />
      <button type="submit" className="button" data-kind="main" disabled={!older || !newer}>
        Compare
      </button>
    </form>
  );
}
