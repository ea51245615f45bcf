import { useMutation } from "@tanstack/react-query";
import type { FormEvent } from "react";
import { Link, useLocation } from "react-router";
import { acts } from "../../api/acts";
import { TextField } from "../../ui/form";
import { Heading, Sheet, Trouble } from "../../ui/parts";

/** Choosing a password by an invitation; its code is behind the # of the address, which no server sees. */
export function InvitationPage() {
  const code = useLocation().hash.slice(1);
  const accept = useMutation({ mutationFn: acts.acceptInvite });
  function submit(event: FormEvent<HTMLFormElement>) {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    accept.mutate({ code, password: String(form.get("password")) });
  }
  return (
    <div className="mx-auto max-w-md">
      <Heading title="Choose a password">
        The invitation is used once. Whoever was signed in with a password of before is signed out.
      </Heading>
      <Sheet label="Choose a password">
        {accept.isSuccess ? (
          <p role="status">
            It is set. <Link to="/">Sign in</Link> with your user name.
          </p>
        ) : (
          <form onSubmit={submit} className="space-y-4">
            <TextField
              label="Password"
              name="password"
              type="password"
              autoComplete="new-password"
              required
              minLength={10}
              hint="At least ten characters, and not a usual one."
            />
            {accept.error ? <Trouble error={accept.error} /> : null}
            <button
              type="submit"
              className="button w-full"
              data-kind="main"
              disabled={accept.isPending || !code}
            >
              Set it
            </button>
            {code ? null : <p>The address lacks its code: open the link as it was sent.</p>}
          </form>
        )}
      </Sheet>
    </div>
  );
}
