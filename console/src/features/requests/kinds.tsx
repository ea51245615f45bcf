import { useQuery } from "@tanstack/react-query";
import { queries } from "../../api/queries";
import type { KindOfRequest, RequestKind } from "../../api/types";

/** The kinds of request that the service knows, in its order; none until they are there. */
export function useKinds(): KindOfRequest[] {
  return useQuery(queries.kinds()).data ?? [];
}

/** One kind of request, once the kinds are there. */
export function useKind(name: RequestKind): KindOfRequest | undefined {
  return useKinds().find((one) => one.kind === name);
}

/** What a kind of request does, as it stands before what it is done to. */
export function Verb({ kind }: { kind: RequestKind }) {
  return <>{useKind(kind)?.verb ?? kind}</>;
}
