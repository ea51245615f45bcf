import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import type { FormEvent } from "react";
import { acts } from "../../api/acts";
import { queries } from "../../api/queries";
import { Heading, Sheet, Trouble } from "../../ui/parts";

export function SignInPage() {
  const client = useQueryClient();
  const ways = useQuery(queries.ways());
  const signIn = useMutation({
    mutationFn: acts.signIn,
    onSuccess: (me) => client.setQueryData(["me"], me),
  });
  function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    signIn.mutate({
      username: String(form.get("username")),
      password: String(form.get("password")),
    });
  }
  return (
    <div className="mx-auto max-w-md">
      <Heading title="Sign in">The list of tool servers that may be used here.</Heading>
      <Sheet label="Sign in">
        {ways.data?.passwords === false ? null : (
          <form onSubmit={submit} className="space-y-4">
            <label className="block">
              Name
              <input name="username" autoComplete="username" required className="field mt-1" />
            </label>
            <label className="block">
              Password
              <input
                name="password"
                type="password"
                autoComplete="current-password"
                required
                className="field mt-1"
              />
            </label>
            {signIn.error ? <Trouble error={signIn.error} /> : null}
            <button
              type="submit"
              className="button w-full"
              data-kind="main"
              disabled={signIn.isPending}
            >
              Sign in
            </button>
          </form>
        )}
        {ways.data?.elsewhere ? (
          <p className="not-first:mt-4 not-first:border-t not-first:border-rule not-first:pt-4">
            <a
              href="/oidc/begin"
              className="button block w-full text-center"
              data-kind={ways.data.passwords ? undefined : "main"}
            >
              Sign in by {ways.data.elsewhere}
            </a>
          </p>
        ) : null}
      </Sheet>
    </div>
  );
}
