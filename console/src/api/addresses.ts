/** How names and parameters stand in the addresses of the service. */

/** Write a name into an address. */
export const part = encodeURIComponent;
export const release = (slug: string, version: string) =>
  `servers/${part(slug)}/releases/${part(version)}`;

/** Write the parameters that have a value. */
export function asked(params: Record<string, string>): string {
  return new URLSearchParams(Object.entries(params).filter(([, value]) => value)).toString();
}
