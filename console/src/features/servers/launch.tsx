import type { LaunchRecord, ReleaseRow } from "../../api/types";
import { Mark } from "../../ui/marks";
import { Foreign } from "../../ui/parts";
import { Scrolling } from "../../ui/table";

/** How each environment runs the newest release that may be used. */
export function Launches({ releases }: { releases: ReleaseRow[] }) {
  const newest = releases.find((one) => one.state === "published") ?? releases[0];
  if (!newest?.launch.length) return null;
  return (
    <section aria-labelledby="launch">
      <h2 id="launch" className="mb-2 text-xl">
        How {newest.version} runs
      </h2>
      <Scrolling label="Launch records">
        <table className="w-full min-w-[40rem] border-collapse text-left">
          <thead>
            <tr className="text-soft">
              {["Environment", "Transport", "Started by", "Pinned"].map((name) => (
                <th
                  key={name}
                  scope="col"
                  className="border-b-2 border-rule px-4 py-2 font-medium whitespace-nowrap"
                >
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {newest.launch.map((record) => (
              <Launch key={record.environment} record={record} />
            ))}
          </tbody>
        </table>
      </Scrolling>
    </section>
  );
}

function Launch({ record }: { record: LaunchRecord }) {
  const names = [...(record.env ?? []), ...(record.headers ?? [])];
  const cell = "border-b border-rule px-4 py-2.5 align-top";
  return (
    <tr>
      <th scope="row" className={`${cell} font-semibold`}>
        {record.environment}
      </th>
      <td className={`${cell} whitespace-nowrap`}>
        {record.transport === "http+sse" ? (
          <Mark shape="triangle" tone="amber">
            event stream, deprecated
          </Mark>
        ) : (
          record.transport
        )}
      </td>
      <td className={`${cell} font-mono text-sm wrap-anywhere`}>
        <Foreign text={record.url ?? [record.command, ...(record.args ?? [])].join(" ")} />
        {names.length ? <div className="font-sans text-soft">needs {names.join(", ")}</div> : null}
      </td>
      <td className={cell}>
        {record.url ? (
          <span className="text-soft">code behind an address cannot be pinned</span>
        ) : record.package?.integrity ? (
          <>
            <Mark shape="disc" tone="moss">
              pinned
            </Mark>
            <div className="font-mono text-xs text-soft">
              {record.package.name} {record.package.version}
            </div>
          </>
        ) : (
          <Mark shape="triangle" tone="amber">
            not pinned
          </Mark>
        )}
      </td>
    </tr>
  );
}
