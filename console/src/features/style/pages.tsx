/** The pages of the house style. */

import { Heading } from "../../ui/parts";
import { Tabs } from "../../ui/tabs";

const PAGES = [
  ["/style", "In force"],
  ["/rules", "Rules"],
  ["/findings", "Findings"],
  ["/waivers", "Waivers"],
] as const;

export function StyleHeading({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <>
      <Heading title={title}>{children}</Heading>
      <Tabs label="House style" pages={PAGES} />
    </>
  );
}
