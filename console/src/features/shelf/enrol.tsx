import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { acts } from "../../api/acts";
import { queries } from "../../api/queries";
import { DATA_CLASSES, type NewServer } from "../../api/types";
import { FormDialog } from "../../ui/dialog";
import { Select, TextField } from "../../ui/form";

/** Puts a server on the shelf: who owns it; its first release is submitted from the command line. */
export default function EnrolDialog({ onClose }: { onClose: () => void }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const me = useQuery(queries.me());
  const teams = useQuery(queries.teams());
  const own = me.data?.role === "submitter" ? me.data.teams : null;
  const choices = (teams.data ?? []).filter((team) => !own || own.includes(team.slug));
  const enrol = useMutation({
    mutationFn: acts.enrol,
    onSuccess: (server) => {
      client.invalidateQueries({ queryKey: ["servers"] });
      onClose();
      navigate(`/servers/${server.slug}`);
    },
  });
  function send(form: FormData) {
    const text = (name: string) => String(form.get(name) ?? "").trim();
    enrol.mutate({
      slug: text("slug"),
      title: text("title"),
      team: text("team"),
      contact: text("contact"),
      source_link: text("source_link"),
      data_class: text("data_class") as NonNullable<NewServer["data_class"]>,
      use: text("use") as NonNullable<NewServer["use"]>,
      scheme: text("scheme") as NonNullable<NewServer["scheme"]>,
      tags: text("tags")
        .split(/[\s,]+/)
        .filter(Boolean),
    });
  }
  return (
    <FormDialog
      title="Put a server on the shelf"
      open
      onClose={onClose}
      onSend={send}
      send="Put it there"
      busy={enrol.isPending}
      error={enrol.error}
    >
      <TextField
        label="Short name"
        name="slug"
        required
        pattern="[a-z0-9]+(-[a-z0-9]+)*"
        maxLength={64}
        className="font-mono"
        hint="Lower-case letters, digits and single hyphens; it stays for ever."
      />
      <TextField label="Title" name="title" required maxLength={120} />
      <Select
        label="Owner team"
        name="team"
        choices={choices.map((team) => [team.slug, team.title] as const)}
      />
      <TextField label="Contact" name="contact" required maxLength={200} />
      <TextField label="Source link" name="source_link" type="url" maxLength={500} />
      <Select
        label="Data class"
        name="data_class"
        defaultValue="internal"
        choices={DATA_CLASSES.map((one) => [one, one] as const)}
      />
      <Select
        label="Used by kits of other teams"
        name="use"
        defaultValue=""
        choices={[
          ["", "freely, until it writes or takes credentials"],
          ["open", "freely"],
          ["ask", "once its owners agree"],
        ]}
      />
      <Select
        label="Versions"
        name="scheme"
        defaultValue="semver"
        choices={[
          ["semver", "SemVer: the number says what breaks"],
          ["calendar", "calendar: three or four numbers that say when"],
        ]}
      />
      <TextField label="Tags" name="tags" hint="Separated by spaces." />
    </FormDialog>
  );
}
