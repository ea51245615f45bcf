import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { acts } from "../../api/acts";
import { queries } from "../../api/queries";
import type { NewPerson, PersonRow } from "../../api/types";
import { FormDialog } from "../../ui/dialog";
import { Select, TextField } from "../../ui/form";
import { invitation, type Shown } from "./shown";

const ROLES = [
  ["reader", "reader: finds, connects, sits at desks"],
  ["submitter", "submitter: an own team's servers"],
  ["curator", "curator: keeps the catalog"],
  ["steward", "steward: people and settings too"],
  ["ci", "CI: checks and submits, never signs"],
] as const;

export function AddDialog({
  open,
  onClose,
  show,
}: {
  open: boolean;
  onClose: () => void;
  show: (shown: Shown) => void;
}) {
  const client = useQueryClient();
  const add = useMutation({
    mutationFn: (body: NewPerson) => acts.addPerson(body),
    onSuccess: (made) => {
      client.invalidateQueries({ queryKey: ["people"] });
      if (made.code) show(invitation(made.username, made.code));
      onClose();
    },
  });
  return (
    <FormDialog
      title="Add an account"
      open={open}
      onClose={onClose}
      onSend={(form) =>
        add.mutate({
          username: String(form.get("username")).trim(),
          name: String(form.get("name")).trim(),
          role: String(form.get("role")) as NewPerson["role"],
          teams: form.getAll("teams").map(String),
        })
      }
      send="Add it"
      busy={add.isPending}
      error={add.error}
    >
      <TextField
        label="User name"
        name="username"
        className="font-mono"
        required
        maxLength={64}
        hint="Lower-case letters, digits and single hyphens."
      />
      <TextField label="Name" name="name" required maxLength={100} />
      <Select label="Role" name="role" choices={ROLES} defaultValue="submitter" />
      <Teams chosen={[]} />
    </FormDialog>
  );
}

export function ChangeDialog({
  person,
  onClose,
}: {
  person: PersonRow | null;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const change = useMutation({
    mutationFn: (form: FormData) =>
      acts.changePerson(person?.username ?? "", {
        name: String(form.get("name")).trim(),
        role: String(form.get("role")) as NewPerson["role"],
        teams: form.getAll("teams").map(String),
        active: form.get("active") === "on",
      }),
    onSuccess: (found) => {
      client.setQueryData(["people"], found.results);
      onClose();
    },
  });
  return (
    <FormDialog
      title={`Change ${person?.username ?? ""}`}
      open={person !== null}
      onClose={onClose}
      onSend={change.mutate}
      send="Change it"
      busy={change.isPending}
      error={change.error}
    >
      <TextField label="Name" name="name" required maxLength={100} defaultValue={person?.name} />
      <Select
        label="Role"
        name="role"
        choices={ROLES.filter(([role]) => (role === "ci") === (person?.role === "ci"))}
        defaultValue={person?.role}
      />
      <Teams chosen={person?.teams ?? []} />
      <label className="flex min-h-10 items-center gap-2">
        <input
          type="checkbox"
          name="active"
          className="size-4 accent-act"
          defaultChecked={person?.active}
        />
        May be used; switched off, its sign-ins and tokens end at once
      </label>
    </FormDialog>
  );
}

function Teams({ chosen }: { chosen: string[] }) {
  const teams = useQuery(queries.teams());
  return (
    <fieldset>
      <legend>Teams</legend>
      <div className="grid gap-x-4 sm:grid-cols-2">
        {(teams.data ?? []).map((one) => (
          <label key={one.slug} className="flex min-h-8 items-center gap-2">
            <input
              type="checkbox"
              name="teams"
              value={one.slug}
              className="size-4 accent-act"
              defaultChecked={chosen.includes(one.slug)}
            />
            {one.title}
          </label>
        ))}
      </div>
    </fieldset>
  );
}
