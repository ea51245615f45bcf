/** What programs can ask of the service: its OpenAPI document, to be read. */

import { useQuery } from "@tanstack/react-query";
import { queries } from "../../api/queries";
import { useParamsOf } from "../../lib/params";
import { SearchField } from "../../ui/form";
import { Code, Heading, Loaded, NoMatches } from "../../ui/parts";
import { type Operation, operations, type Spec, sketch } from "./spec";

export function Component() {
  const spec = useQuery(queries.openapi());
  return (
    <>
      <Heading title="The API">
        Everything this console does, over HTTP. The document itself is at{" "}
        <a href="/api/v1/openapi.json">/api/v1/openapi.json</a> (OpenAPI 3.1); there is a client
        library in Python. Send a token as <code>Authorization: Bearer …</code>.
      </Heading>
      <Loaded query={spec}>{(found) => <Reference spec={found as Spec} />}</Loaded>
    </>
  );
}

function Reference({ spec }: { spec: Spec }) {
  const [read, write] = useParamsOf();
  const wanted = read("name").toLowerCase();
  const all = operations(spec).filter((one) =>
    `${one.method} ${one.path} ${one.words}`.toLowerCase().includes(wanted),
  );
  const groups = [...new Set(all.map((one) => one.group))];
  return (
    <>
      <div className="mb-6 max-w-md">
        <SearchField
          label="Address or words"
          value={read("name")}
          onSearch={(name) => write({ name })}
        />
      </div>
      {all.length === 0 ? <NoMatches /> : null}
      {groups.map((group) => (
        <section key={group} aria-labelledby={`group-${group}`} className="mb-8">
          <h2 id={`group-${group}`} className="mb-2 text-xl">
            {group}
          </h2>
          <div className="divide-y divide-rule border border-rule bg-sheet">
            {all
              .filter((one) => one.group === group)
              .map((one) => (
                <Call key={one.id} spec={spec} operation={one} />
              ))}
          </div>
        </section>
      ))}
    </>
  );
}

function Call({ spec, operation }: { spec: Spec; operation: Operation }) {
  const { about } = operation;
  const body = about.requestBody?.content["application/json"]?.schema;
  const answers = Object.entries(about.responses);
  return (
    <details className="px-4 py-3" id={operation.id}>
      <summary>
        <span className="inline-block w-16 font-mono text-sm font-semibold">
          {operation.method}
        </span>
        <span className="font-mono text-sm wrap-anywhere text-ink">{operation.path}</span>
        <span className="block text-soft sm:ml-4 sm:inline">{operation.words}</span>
      </summary>
      <div className="mt-3 space-y-3 sm:ml-16">
        {about.parameters?.length ? (
          <dl className="grid grid-cols-[auto_1fr] gap-x-4">
            {about.parameters.map((one) => (
              <div key={`${one.in} ${one.name}`} className="contents">
                <dt className="font-mono text-sm">
                  {one.name}
                  {one.required ? "" : "?"}
                </dt>
                <dd className="text-soft">
                  {one.in}
                  {one.schema?.enum ? `: ${one.schema.enum.join(", ")}` : ""}
                  {one.description ? `; ${one.description}` : ""}
                </dd>
              </div>
            ))}
          </dl>
        ) : null}
        {body ? <Code label="Body" text={`body ${sketch(spec, body)}`} /> : null}
        {answers.map(([status, answer]) => {
          const schema = answer.content?.["application/json"]?.schema;
          return (
            <Code
              key={status}
              label={`Answer ${status}`}
              text={`${status} ${schema ? sketch(spec, schema) : "nothing"}`}
            />
          );
        })}
      </div>
    </details>
  );
}
