import type { HopResult, PlanDocument } from "../../api/client";
import { AllFields, fieldsIn } from "../../plan/AllFields";
import { AddItem } from "../../plan/AddItem";
import { Choice, Tick, RefusedHere } from "../../plan/fields";
import { ItemFieldset, RemoveItem } from "../../plan/ItemFieldset";
import { useSnapshot } from "../../plan/context";
import { Entry, Fold, More } from "../../kit/Fold";
import { counted } from "../../kit/format";
import { useEnds } from "./useEnds";

type Wiring = NonNullable<PlanDocument["plan"]["wiring"]>;
type Link = NonNullable<Wiring["links"]>[number];
type Switch = NonNullable<Wiring["switches"]>[number];

const PROTOCOLS: [string, string][] = [
  ["smb", "SMB"],
  ["nfs", "NFS"],
];
const OF_A_SEAT = ["adapter", "has_display"];
const SEEN_ABOVE = ["near", "far", "speed", "links"];

/** What the wires are made of: switches, links, what parts cost, and what holds for the whole network. */
export function Wires() {
  const { document, evaluation } = useSnapshot();
  const wiring = document.plan.wiring;
  const links = wiring?.links ?? [];
  const switches = wiring?.switches ?? [];
  const hops = new Map(evaluation.wiring.hops.map((hop) => [hop.id, hop]));
  return (
    <>
      <Fold title="Switches" said={counted(switches.length, "switch", "switches")} open>
        {switches.map((one) => (
          <OneSwitch key={one.id} one={one} />
        ))}
        <RefusedHere path="plan/wiring/switches" />
        <AddItem path="plan/wiring/switches">Add a switch</AddItem>
      </Fold>
      <Fold title="Links" said={counted(links.length, "link")} open>
        {links.map((link) => (
          <OneLink key={link.id} link={link} hop={hops.get(link.id)} />
        ))}
        <RefusedHere path="plan/wiring/links" />
        <AddItem path="plan/wiring/links">Add a link</AddItem>
      </Fold>
      <PartPrices prices={wiring?.prices ?? []} />
      <Fold title="Network" said={`MTU ${wiring?.mtu ?? 1500}`}>
        <Choice field="Wiring.mtu" path="plan/wiring/mtu" />
        <Choice field="Wiring.protocol" path="plan/wiring/protocol" options={PROTOCOLS} />
        <Tick field="Wiring.has_spare_cables" path="plan/wiring/has_spare_cables" />
      </Fold>
    </>
  );
}

function OneSwitch({ one }: { one: Switch }) {
  const path = `plan/wiring/switches/${one.id}`;
  const its = fieldsIn("Switch", path, one.name);
  return (
    <ItemFieldset field="Switch.name" path={path} name={one.name}>
      <span>ports</span>
      <span className="grow">{its("ports", "ports, as 8x10GbE 24x1GbE")}</span>
      <More of={one.name}>
        <AllFields model="Switch" path={path} skip={["name", "ports"]} />
      </More>
    </ItemFieldset>
  );
}

function OneLink({ link, hop }: { link: Link; hop: HopResult | undefined }) {
  const path = `plan/wiring/links/${link.id}`;
  const { nears, fars } = useEnds();
  const name = hop?.name ?? link.id;
  const its = fieldsIn("Link", path, name);
  const isSeats = link.near.startsWith("seat:");
  const skip = [
    ...SEEN_ABOVE,
    ...(isSeats ? ["near_ports", "lets_in"] : OF_A_SEAT),
    ...(link.near === "outside" ? ["near_ports"] : ["lets_in"]),
  ];
  const joined = (link.links ?? 1) > 1 ? `${link.links} × ` : "";
  return (
    <Entry name={name} figure={`${joined}${hop?.speed ?? link.speed}`} open={false}>
      <div className="mt-1 flex flex-wrap items-center gap-x-2 gap-y-1">
        {its("near", "from", nears)}
        <span>to</span>
        {its("far", "to", fars)}
        <RemoveItem path={path} name={name} />
      </div>
      <div className="mt-1 flex flex-wrap items-center gap-x-2 gap-y-1">
        {its("speed", "speed")}
        <span>×</span>
        {its("links", "links together")}
      </div>
      {hop?.limited_by && (
        <p className="faint text-sm">
          Comes up at {hop.speed}: {hop.limited_by} decides.
        </p>
      )}
      <AllFields model="Link" path={path} skip={skip} />
    </Entry>
  );
}

/** What parts cost, so that a proposal can say what it costs. */
function PartPrices({ prices }: { prices: NonNullable<Wiring["prices"]> }) {
  return (
    <Fold title="What parts cost" said={counted(prices.length, "price")}>
      {prices.map((price) => {
        const path = `plan/wiring/prices/${price.id}`;
        const name = `${price.part ?? "adapter"}, ${price.speed ?? ""}`;
        const its = fieldsIn("PartPrice", path, name);
        return (
          <div key={price.id} className="flex flex-wrap items-center gap-2 py-1">
            {its("part", "part")}
            {its("speed", "speed")}
            {its("unit_price", "price each")}
            {its("priced_on", "price of")}
            <RemoveItem path={path} name={`the price of ${name}`} />
          </div>
        );
      })}
      <RefusedHere path="plan/wiring/prices" />
      <AddItem path="plan/wiring/prices">Add a price</AddItem>
    </Fold>
  );
}
