import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { queries } from "../../api/shelf";
import type { Finding, Item, Items, Line, ReleaseRow } from "../../api/types";
import { plural, short, when } from "../../lib/text";
import { LevelMark, StateMark } from "../../ui/marks";
import { Empty, Foreign, Heading, Json, Loaded } from "../../ui/parts";

export function ReleasePage() {
  const { slug = "", version = "" } = useParams();
  const release = useQuery(queries.release(slug, version));
  const items = useQuery(queries.items(slug, version));
  return (
    <>
      <Loaded query={release}>{(found) => <Head release={found} />}</Loaded>
      {release.data ? <Loaded query={items}>{(found) => <Contents items={found} />}</Loaded> : null}
    </>
  );
}

function Head({ release }: { release: ReleaseRow }) {
  return (
    <Heading
      title={
        <>
          <Link to={`/servers/${release.server}`} className="text-ink no-underline hover:underline">
            {release.server}
          </Link>{" "}
          <span className="font-mono text-2xl">{release.version}</span>
        </>
      }
      aside={<StateMark state={release.state} />}
    >
      {plural(release.item_count, "item")}, about {release.tokens.toLocaleString("en")} tokens;
      submitted by {release.submitted_by} on {when(release.submitted_at)}, {release.origin}; digest{" "}
      <span className="font-mono">{short(release.digest)}</span>
    </Heading>
  );
}

function Contents({ items }: { items: Items }) {
  return (
    <div className="space-y-6">
      {items.instructions ? (
        <p className="max-w-prose border-l-4 border-rule pl-4">
          <span className="text-soft">Instructions to the model: </span>
          <Foreign text={items.instructions} />
        </p>
      ) : null}
      <Findings findings={items.findings} />
      {items.items.length === 0 ? <Empty>This release declares no item.</Empty> : null}
      {items.items.map((item) => (
        <ItemSheet key={`${item.item} ${item.digest}`} item={item} />
      ))}
      <p className="text-sm text-soft">Tokens: {items.token_method}.</p>
    </div>
  );
}

function ItemSheet({ item }: { item: Item }) {
  const about = (pointer: string) =>
    item.findings.filter((one) => one.pointer === pointer || one.pointer.startsWith(`${pointer}/`));
  const lines = [...item.parameters, ...item.results];
  const placed = new Set(lines.flatMap((line) => about(line.pointer)));
  const rest = item.findings.filter((one) => !placed.has(one));
  return (
    <article
      id={item.item}
      className="border border-rule bg-sheet"
      aria-labelledby={`name ${item.item}`}
    >
      <div className="grid gap-x-8 lg:grid-cols-[5fr_2fr]">
        <div className="p-4 sm:p-6">
          <div className="flex flex-wrap items-baseline justify-between gap-x-4">
            <h2 id={`name ${item.item}`} className="font-mono text-lg break-all">
              <Foreign text={item.name || "(no name)"} />
            </h2>
            <span className="text-sm text-soft">
              {item.kind}, about {item.tokens.toLocaleString("en")} tokens
            </span>
          </div>
          <p className="mt-2 max-w-prose">
            {item.description ? (
              <Foreign text={item.description} />
            ) : (
              <em className="text-soft">no description</em>
            )}
          </p>
        </div>
        <div className="px-4 pb-4 sm:px-6 lg:border-l lg:border-rule lg:py-6 lg:pl-6">
          <Findings findings={rest} />
        </div>
      </div>
      <Lines title="takes" lines={item.parameters} about={about} />
      <Lines title="returns" lines={item.results} about={about} />
      <details className="border-t border-rule px-4 py-3 sm:px-6">
        <summary className="cursor-pointer text-act">As declared</summary>
        <Json label={`${item.name} as declared`} value={item.declared} />
      </details>
    </article>
  );
}

function Lines({
  title,
  lines,
  about,
}: {
  title: string;
  lines: Line[];
  about: (pointer: string) => Finding[];
}) {
  if (lines.length === 0) return null;
  return (
    <div className="border-t border-rule px-4 py-3 sm:px-6">
      <h3 className="text-sm text-soft">{title}</h3>
      <ul>
        {lines.map((line) => (
          <li key={line.pointer} className="grid gap-x-6 py-1 lg:grid-cols-[3fr_2fr_4fr_3fr]">
            <span className="font-mono font-semibold wrap-anywhere">
              <Foreign text={line.name} />
            </span>
            <span className="font-mono text-sm text-soft">
              <Foreign text={line.type} />
              {line.required ? "" : ", optional"}
            </span>
            <span>
              <Foreign text={line.description} />
            </span>
            <Findings findings={about(line.pointer)} />
          </li>
        ))}
      </ul>
    </div>
  );
}

function Findings({ findings }: { findings: Finding[] }) {
  if (findings.length === 0) return null;
  return (
    <ul className="space-y-2 text-sm">
      {findings.map((one) => (
        <li key={one.fingerprint}>
          <LevelMark level={one.level}>
            {one.level}: {one.rule}
          </LevelMark>
          <p>
            <Foreign text={one.message} />
          </p>
        </li>
      ))}
    </ul>
  );
}
