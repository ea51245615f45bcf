/** How one is told of a thing: chosen where it stands. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { acts } from "../api/acts";
import { queries } from "../api/queries";
import type { Way } from "../api/types";
import { type Choice, Select } from "./form";
import { Trouble } from "./parts";

export const WAYS: Record<Way, string> = {
  inbox: "in the inbox",
  mail: "by mail, each",
  digest: "by mail, once a day",
  nothing: "not at all",
};
const CHOICES: Choice[] = [["default", "as for your teams and desks"], ...Object.entries(WAYS)];

/** A choice of how one is told of a thing: `server:SLUG`, `kit:NAME`, `team:SLUG` or `catalog`. */
export function Follow({ about, label = "You are told of it" }: { about: string; label?: string }) {
  const client = useQueryClient();
  const rows = useQuery(queries.following());
  const follow = useMutation({
    mutationFn: acts.follow,
    onSuccess: (page) => client.setQueryData(["following"], page.results),
  });
  const chosen = rows.data?.find((one) => one.about === about)?.how ?? "default";
  return (
    <div>
      <Select
        label={label}
        choices={CHOICES}
        value={chosen}
        disabled={!rows.data || follow.isPending}
        onChange={(event) => follow.mutate({ about, how: event.target.value as Way | "default" })}
      />
      {follow.error ? <Trouble error={follow.error} /> : null}
    </div>
  );
}
