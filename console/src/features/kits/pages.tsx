/** The pages about kits. */

export const KIT_PAGES = [
  ["/kits", "Kits"],
  ["/kit-matrix", "Who holds what"],
] as const;
