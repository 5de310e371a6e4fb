"use client";

import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { Bars3Icon } from "@heroicons/react/16/solid";
import type { ReactNode } from "react";
import { Link } from "../Link";
import { groupsFor, isHere, type Section } from "./sections";
import { WORDS } from "./words";

const DESK: Section = { href: "/", name: WORDS.desk };

/** The sections as index tabs, their groups parted by a thin rule. `beside` gives the word beside a section's name. */
export function SectionTabs({ role, path, beside }: { role: string; path: string; beside: (section: Section) => ReactNode }) {
  const tab = (section: Section) => {
    const here = isHere(path, section);
    return (
      <Link
        key={section.href}
        href={section.href}
        aria-current={here ? "page" : undefined}
        className={`-mb-px rounded-t-lg border px-2.5 pt-2 pb-2 text-base whitespace-nowrap @max-[75rem]:px-1.5 @max-[69rem]:text-small ${here ? "border-rule border-b-paper bg-paper font-semibold" : "border-transparent text-soft hover:text-ink"}`}
      >
        {section.name}
        {beside(section)}
      </Link>
    );
  };
  return (
    <nav aria-label={WORDS.sections} className="flex items-end @max-[62rem]:hidden">
      {tab(DESK)}
      {groupsFor(role).map((group) => (
        <span key={group.name} role="group" aria-label={group.name} className="flex items-end">
          <span aria-hidden="true" className="mx-1.5 mb-2.5 h-4 border-l border-rule @max-[69rem]:mx-0.5" />
          {group.sections.map(tab)}
        </span>
      ))}
    </nav>
  );
}

/** The same behind one button, for a phone and for large type. */
export function SectionMenu({ role, path }: { role: string; path: string }) {
  const groups = groupsFor(role);
  const here = [DESK, ...groups.flatMap((g) => g.sections)].find((s) => isHere(path, s));
  const item = (section: Section) => (
    <MenuItem key={section.href}>
      <Link href={section.href} aria-current={isHere(path, section) ? "page" : undefined} className="menu-item aria-[current]:font-semibold">
        {section.name}
      </Link>
    </MenuItem>
  );
  return (
    <Menu>
      <MenuButton className="button mb-1.5 @min-[62rem]:hidden">
        <Bars3Icon className="size-4" /> {here?.name ?? WORDS.menu}
      </MenuButton>
      <MenuItems anchor="bottom start" className="popover w-56">
        {item(DESK)}
        {groups.map((group) => (
          <div key={group.name}>
            <p className="caption px-2 pt-2">{group.name}</p>
            {group.sections.map(item)}
          </div>
        ))}
      </MenuItems>
    </Menu>
  );
}
