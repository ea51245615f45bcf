/** What is shown once: an invitation's address, or a token. */
export interface Shown {
  words: string;
  text: string;
}

/** The address by which somebody chooses a password; its code is behind the #, which no log sees. */
export const invitation = (username: string, code: string): Shown => ({
  words: `The address by which ${username} chooses a password, within seven days.`,
  text: `${window.location.origin}/invitation#${code}`,
});
