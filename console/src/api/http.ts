/** One way to the service: JSON in and out, CSRF on writes, problem documents as errors. */

export class Problem extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly remedy: string,
    readonly requestId = "",
  ) {
    super(message);
  }
}

interface Options {
  body?: unknown;
  headers?: Record<string, string>;
}

function csrf(): string {
  return /(?:^|; )(?:__Host-)?tallshelf_csrf=([^;]*)/.exec(document.cookie)?.[1] ?? "";
}

async function send(method: string, path: string, { body, headers = {} }: Options = {}) {
  const sent: Record<string, string> = { Accept: "application/json", ...headers };
  if (body !== undefined) sent["Content-Type"] = "application/json";
  if (method !== "GET") sent["X-CSRFToken"] = csrf();
  try {
    return await fetch(`/api/v1/${path}`, {
      method,
      headers: sent,
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
  } catch {
    throw new Problem(0, "The service does not answer.", "Check that it runs, then try again.");
  }
}

export async function call<Result>(
  method: string,
  path: string,
  options: Options = {},
): Promise<Result> {
  const answer = await send(method, path, options);
  if (answer.status === 204) return undefined as Result;
  return read<Result>(answer);
}

async function read<Result>(answer: Response): Promise<Result> {
  const text = await answer.text();
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new Problem(
      answer.status,
      `The service answered with HTTP ${answer.status}.`,
      "Try again; if it stays so, tell a steward.",
    );
  }
  if (!answer.ok) {
    const problem = value as Record<
      "detail" | "title" | "remedy" | "request_id",
      string | undefined
    >;
    const message = problem.detail ?? problem.title ?? `HTTP ${answer.status}`;
    throw new Problem(
      answer.status,
      sentence(message),
      problem.remedy ?? "",
      answer.status >= 500 ? problem.request_id : "",
    );
  }
  return value as Result;
}

/** Post, and hand over each document of an answer in JSON Lines as soon as it is there; return the last. */
export async function lines<Line>(
  path: string,
  body: unknown,
  onLine: (line: Line) => void,
): Promise<Line> {
  const answer = await send("POST", path, { body });
  if (!answer.ok || !answer.body) return read<Line>(answer);
  const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
  let [rest, last] = ["", undefined as Line | undefined];
  for (let part = await reader.read(); !part.done; part = await reader.read()) {
    const whole = (rest + part.value).split("\n");
    rest = whole.pop() ?? "";
    for (const one of whole) {
      last = JSON.parse(one) as Line;
      onLine(last);
    }
  }
  if (last === undefined) throw new Problem(0, "The answer broke off.", "Try again.");
  return last;
}

function sentence(text: string): string {
  const capital = text.charAt(0).toUpperCase() + text.slice(1);
  return /[.!?]$/.test(capital) ? capital : `${capital}.`;
}

export const get = <Result>(path: string) => call<Result>("GET", path);
export const post = <Result>(path: string, body: unknown = {}) =>
  call<Result>("POST", path, { body });
