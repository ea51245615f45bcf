/** The pages about requests. */
export const REQUEST_PAGES = [
  ["/requests", "Queue"],
  ["/follow-ups", "Follow-ups"],
  ["/routing", "Routing and desks"],
] as const;
