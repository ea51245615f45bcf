/** One way to the service: JSON in and out, CSRF on writes, problem documents as errors. */

export class Problem extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly remedy: string,
  ) {
    super(message);
  }
}

function csrf(): string {
  return /(?:^|; )tallshelf_csrf=([^;]*)/.exec(document.cookie)?.[1] ?? "";
}

export async function call<Result>(method: string, path: string, body?: unknown): Promise<Result> {
  const headers: Record<string, string> = { Accept: "application/json" };
  if (body !== undefined) headers["Content-Type"] = "application/json";
  if (method !== "GET") headers["X-CSRFToken"] = csrf();
  let answer: Response;
  try {
    answer = await fetch(`/api/v1/${path}`, {
      method,
      headers,
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
  } catch {
    throw new Problem(0, "The service does not answer.", "Check that it runs, then try again.");
  }
  if (answer.status === 204) return undefined as Result;
  const text = await answer.text();
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new Problem(answer.status, `The service answered with HTTP ${answer.status}.`, "");
  }
  if (!answer.ok) {
    const problem = value as { detail?: string; title?: string; remedy?: string };
    const message = problem.detail ?? problem.title ?? `HTTP ${answer.status}`;
    throw new Problem(answer.status, message, problem.remedy ?? "");
  }
  return value as Result;
}

export const get = <Result>(path: string) => call<Result>("GET", path);
export const post = <Result>(path: string, body?: unknown) =>
  call<Result>("POST", path, body ?? {});
