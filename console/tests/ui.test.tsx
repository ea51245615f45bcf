import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, render, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { createMemoryRouter, RouterProvider, useLocation } from "react-router";
import { afterEach, expect, test, vi } from "vitest";
import { Problem } from "../src/api/http";
import { Marked } from "../src/features/find/hit";
import { ServerRecord } from "../src/features/servers/record";
import { Shelf } from "../src/features/shelf/shelf";
import { askedOf } from "../src/lib/spines";
import { FormDialog } from "../src/ui/dialog";
import { TextField } from "../src/ui/form";
import { Foreign, Loaded, Trouble } from "../src/ui/parts";
import { DataTable } from "../src/ui/table";
import { WhenTouched } from "../src/ui/when-touched";
import { picture, server } from "./rows";

afterEach(() => vi.unstubAllGlobals());

const NOTHING = askedOf({ name: "", team: "", state: "", tag: "", data: "", transport: "" });

function Address() {
  return <output>{useLocation().search}</output>;
}

/** Draw something as a page of the console, and return a way to read the address's query. */
function page(element: React.ReactNode) {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const router = createMemoryRouter([
    {
      path: "*",
      element: (
        <>
          {element}
          <Address />
        </>
      ),
    },
  ]);
  render(
    <QueryClientProvider client={client}>
      <RouterProvider router={router} />
    </QueryClientProvider>,
  );
  return () => screen.getByRole("status", { name: "" }).textContent;
}

test("a table sorts by its heads, says so, and pages; all of it in the address", async () => {
  const rows = Array.from({ length: 5_000 }, (_, index) => ({
    id: index,
    size: (index * 7) % 5_000,
  }));
  const search = page(
    <DataTable
      label="Things"
      rows={rows}
      rowKey={(row) => row.id}
      sort="id"
      columns={[
        { key: "id", title: "Id", value: (row) => row.id, cell: (row) => row.id },
        {
          key: "size",
          title: "Size",
          number: true,
          value: (row) => row.size,
          cell: (row) => row.size,
        },
        { key: "none", title: "None", cell: () => "" },
      ]}
    />,
  );
  const user = userEvent.setup();
  const size = () => screen.getByRole("columnheader", { name: /Size/ });
  expect(screen.getAllByRole("row")).toHaveLength(101);
  expect(
    within(screen.getByRole("columnheader", { name: "None" })).queryByRole("button"),
  ).toBeNull();
  await user.click(within(size()).getByRole("button"));
  expect(size()).toHaveAttribute("aria-sort", "descending");
  expect(search()).toBe("?sort=-size");
  expect(screen.getAllByRole("row")[1]).toHaveTextContent("4999");
  await user.click(within(size()).getByRole("button"));
  expect(size()).toHaveAttribute("aria-sort", "ascending");
  await user.click(screen.getByRole("button", { name: "Next" }));
  expect(search()).toBe("?sort=size&page=2");
  expect(screen.getByText("Page 2 of 50, 5,000 rows")).toBeVisible();
});

test("the arrow keys walk the shelf by spines and by bays, with one stop for Tab", async () => {
  const rows = ["a1", "a2", "b1"].map((slug) =>
    server(slug, { team_slug: slug.slice(0, 1), team_title: slug.slice(0, 1) }),
  );
  page(<Shelf found={picture(rows)} asked={NOTHING} mine={new Map([["b1", "b"]])} />);
  const user = userEvent.setup();
  await user.tab();
  const at = () => (document.activeElement as HTMLElement).dataset.spine;
  expect(at()).toBe("a1");
  for (const [key, slug] of [
    ["{ArrowRight}", "a2"],
    ["{ArrowDown}", "b1"],
    ["{ArrowRight}", "b1"],
    ["{ArrowUp}", "a1"],
    ["{End}", "b1"],
    ["{Home}", "a1"],
    ["{ArrowLeft}", "a1"],
  ] as const) {
    await user.keyboard(key);
    expect(at(), key).toBe(slug);
  }
  expect(screen.getByRole("tooltip")).toHaveTextContent("a1");
  await user.keyboard("{Escape}");
  expect(screen.queryByRole("tooltip")).toBeNull();
  expect(screen.getByRole("link", { name: /b1.*waits for you/ })).toHaveAttribute("tabindex", "-1");
});

test("twenty teams stand closed, and open one by one", async () => {
  const rows = Array.from({ length: 200 }, (_, index) =>
    server(`s-${index}`, { team_slug: `t${index % 20}`, team_title: `Team ${index % 20}` }),
  );
  const asked: string[] = [];
  vi.stubGlobal("fetch", async (address: string) => {
    asked.push(address);
    return Response.json({ results: rows.filter((row) => row.team_slug === "t3"), next: null });
  });
  const search = page(<Shelf found={picture(rows)} asked={NOTHING} mine={new Map()} />);
  expect(screen.queryAllByRole("link")).toHaveLength(0);
  await userEvent.click(screen.getByRole("button", { name: /Team 3\s*10 servers/ }));
  expect(await screen.findAllByRole("link")).toHaveLength(10);
  expect(asked).toHaveLength(1);
  expect(asked[0]).toContain("servers?team=t3");
  expect(search()).toBe("?bays=t3");
  await userEvent.click(screen.getByRole("button", { name: "Close" }));
  expect(screen.queryAllByRole("link")).toHaveLength(0);
});

test("a dialog asks before it throws away what was typed", async () => {
  const onClose = vi.fn();
  const ask = vi.fn(() => false);
  vi.stubGlobal("confirm", ask);
  page(
    <FormDialog
      title="Tell"
      open
      onClose={onClose}
      onSend={() => undefined}
      send="Send"
      busy={false}
      error={new Problem(409, "It moved.", "Look again.")}
    >
      <TextField label="Why" name="why" />
    </FormDialog>,
  );
  const dialog = await screen.findByRole("dialog", { name: "Tell" });
  expect(within(dialog).getByRole("alert")).toHaveTextContent("It moved.Look again.");
  await userEvent.type(within(dialog).getByLabelText("Why"), "because");
  await userEvent.click(within(dialog).getByRole("button", { name: "Cancel" }));
  expect(ask).toHaveBeenCalledOnce();
  expect(onClose).not.toHaveBeenCalled();
  ask.mockReturnValue(true);
  await userEvent.click(within(dialog).getByRole("button", { name: "Cancel" }));
  expect(onClose).toHaveBeenCalledOnce();
});

test("a record is edited in place, against what was seen", async () => {
  const found = {
    ...server("tide-tables", { title: "Tides" }),
    releases: [],
    suspensions: [],
    record_digest: "sha256:seen",
    may_edit: ["title", "tags"],
    may_suspend: false,
    may_ask: false,
  };
  const sent = vi.fn(async () => new Response(JSON.stringify({ ...found, title: "Tide tables" })));
  vi.stubGlobal("fetch", sent);
  page(<ServerRecord server={found} />);
  expect(screen.queryByRole("button", { name: /Edit\s*data class/ })).toBeNull();
  await userEvent.click(screen.getByRole("button", { name: /Edit\s*title/ }));
  const field = screen.getByRole("textbox", { name: "Title" });
  expect(field).toHaveFocus();
  await userEvent.clear(field);
  await userEvent.type(field, "Tide tables{Enter}");
  expect(sent).toHaveBeenCalledWith(
    "/api/v1/servers/tide-tables",
    expect.objectContaining({
      method: "PATCH",
      body: '{"title":"Tide tables"}',
      headers: expect.objectContaining({ "If-Match": '"sha256:seen"' }),
    }),
  );
  await userEvent.click(await screen.findByRole("button", { name: /Edit\s*tags/ }));
  await userEvent.keyboard("{Escape}");
  expect(screen.queryByRole("textbox")).toBeNull();
});

test("foreign text is never markup, and hits are marked", () => {
  page(
    <>
      <p data-testid="text">
        <Foreign text={'<img src=x onerror="alert(1)">\u200B'} />
      </p>
      <p data-testid="hit">
        <Marked
          pieces={[
            { text: "free_", hit: false },
            { text: "berth", hit: true },
          ]}
        />
      </p>
    </>,
  );
  expect(document.querySelector("img")).toBeNull();
  expect(screen.getByTestId("text")).toHaveTextContent('<img src=x onerror="alert(1)">U+200B');
  expect(screen.getByTestId("hit").querySelector("mark")).toHaveTextContent("berth");
});

test("what could not be renewed stays, and says that it may be old", async () => {
  const refetch = vi.fn();
  const gone = new Problem(0, "The service does not answer.", "Check that it runs.");
  page(<Loaded query={{ data: "rows", error: gone, refetch }}>{(data) => <p>{data}</p>}</Loaded>);
  expect(screen.getByText("rows")).toBeVisible();
  expect(screen.getByRole("alert")).toHaveTextContent("may be out of date");
  await userEvent.click(screen.getByRole("button", { name: "Try again" }));
  expect(refetch).toHaveBeenCalledOnce();
});

test("trouble of the service's own names the request", () => {
  page(<Trouble error={new Problem(500, "It failed.", "", "abc12345")} />);
  expect(screen.getByRole("alert")).toHaveTextContent("number of this request: abc12345");
});

test("what is loaded when touched takes over the field with its text, its caret and its focus", async () => {
  const user = userEvent.setup();
  let arrive: (part: () => React.ReactNode) => void = () => undefined;
  const keys: string[] = [];
  render(
    <WhenTouched
      load={() =>
        new Promise<() => React.ReactNode>((resolve) => {
          arrive = resolve;
        })
      }
      part={{}}
      opens="ArrowDown"
      standIn={<input aria-label="Plain" />}
    />,
  );
  await user.type(screen.getByLabelText("Plain"), "berths{ArrowLeft}");
  act(() =>
    arrive(() => (
      <input aria-label="Part" defaultValue="berths" onKeyDown={(event) => keys.push(event.key)} />
    )),
  );
  const part = await screen.findByLabelText<HTMLInputElement>("Part");
  await waitFor(() => expect(part).toHaveFocus());
  expect(part.selectionStart).toBe(5);
  expect(keys).toEqual(["ArrowDown"]);
});

test("who has moved on meanwhile is not called back by what was loaded", async () => {
  let arrive: (part: () => React.ReactNode) => void = () => undefined;
  render(
    <>
      <WhenTouched
        load={() =>
          new Promise<() => React.ReactNode>((resolve) => {
            arrive = resolve;
          })
        }
        part={{}}
        opens="ArrowDown"
        standIn={<input aria-label="Plain" />}
      />
      <button type="button">Next</button>
    </>,
  );
  await userEvent.click(screen.getByLabelText("Plain"));
  vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", false); // it draws when it would in a browser
  arrive(() => <input aria-label="Part" />);
  await Promise.resolve().then(() => undefined);
  screen.getByText("Next").focus();
  await waitFor(() => expect(screen.getByLabelText("Part")).toBeVisible());
  expect(screen.getByText("Next")).toHaveFocus();
  vi.unstubAllGlobals();
});

test("a button that is only reached for is not opened, one that was pressed is", async () => {
  const user = userEvent.setup();
  const opened = vi.fn();
  const part = () => (
    <button type="button" onKeyDown={(event) => opened(event.key)}>
      Real
    </button>
  );
  const draw = (label: string, wait: Promise<void>) =>
    render(
      <WhenTouched
        load={() => wait.then(() => part)}
        part={{}}
        opens="Enter"
        standIn={<button type="button">{label}</button>}
      />,
    );
  const first = draw("Reached", Promise.resolve());
  await user.hover(screen.getByText("Reached"));
  await screen.findByText("Real");
  expect(opened).not.toHaveBeenCalled();
  first.unmount();
  let arrive: () => void = vi.fn();
  const wait = new Promise<void>((resolve) => {
    arrive = resolve;
  });
  draw("Pressed", wait);
  await user.click(screen.getByText("Pressed"));
  act(arrive);
  await screen.findByText("Real");
  await waitFor(() => expect(opened.mock.calls).toEqual([["Enter"]]));
});
