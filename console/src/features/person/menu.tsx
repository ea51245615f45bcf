import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { useMutation } from "@tanstack/react-query";
import { Link } from "react-router";
import { acts } from "../../api/acts";
import type { Me } from "../../api/types";

export function PersonMenu({ me }: { me: Me }) {
  const signOut = useMutation({
    mutationFn: acts.signOut,
    onSuccess: () => window.location.assign("/"), // which drops all that the page holds
  });
  const entry =
    "block w-full cursor-pointer px-4 py-2 text-left text-ink no-underline data-focus:bg-paper data-focus:underline";
  return (
    <Menu>
      <MenuButton className="cursor-pointer py-1 text-soft hover:text-ink">
        {me.name}, {me.role} <span aria-hidden="true">▾</span>
      </MenuButton>
      <MenuItems
        anchor={{ to: "bottom end", gap: 8 }}
        modal={false}
        className="z-10 w-56 border border-rule bg-sheet py-1 shadow-lg outline-none"
      >
        <MenuItem>
          <Link to="/me" className={entry}>
            Your page
          </Link>
        </MenuItem>
        <MenuItem>
          <Link to="/webhooks" className={entry}>
            Webhooks
          </Link>
        </MenuItem>
        {me.role === "steward" ? (
          <MenuItem>
            <Link to="/people" className={entry}>
              People
            </Link>
          </MenuItem>
        ) : null}
        <MenuItem>
          <Link to="/api-reference" className={entry}>
            The API
          </Link>
        </MenuItem>
        <MenuItem>
          <button type="button" className={entry} onClick={() => signOut.mutate()}>
            Sign out
          </button>
        </MenuItem>
      </MenuItems>
    </Menu>
  );
}
