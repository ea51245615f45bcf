/** The pages about requests. */
export const REQUEST_PAGES = [
  ["/requests", "Queue"],
  ["/routing", "Routing and desks"],
] as const;
