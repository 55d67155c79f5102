/** Every control of the kit in every state, for who changes one. Never in the product: see vite.config.ts. */

import "@fontsource-variable/bricolage-grotesque";
import "@fontsource-variable/commissioner";
import { StrictMode, useState, type ReactNode } from "react";
import { createRoot } from "react-dom/client";

import "../theme.css";
import { Beam } from "./Beam";
import { ClassChoice } from "./ClassChoice";
import { FileDrop } from "./FileDrop";
import { Listbox } from "./Listbox";
import { Palette } from "./Palette";
import { Progress } from "./Progress";
import { Hatches } from "./patterns";
import { SidePanel } from "./SidePanel";
import { ThemeSwitch } from "./ThemeSwitch";
import { Button, LINK } from "./Button";
import { Key } from "./Key";
import { Row } from "./Row";
import { Checkbox, Input, numberLook, Offer, Radio, Select } from "./Input";
import { Problem } from "./Problem";
import { Fieldset } from "./Fieldset";
import { MarkedText } from "./MarkedText";
import { Cautions } from "./Cautions";
import { Notice, Waiting } from "./Notice";
import { TermCard, Terms } from "./Terms";
import { Count } from "./Count";
import { Tabs } from "./Tabs";
import { Heads, Table } from "./Table";
import { Behind, Entry, Fold, More } from "./Fold";

const nothing = () => undefined;

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title} className="mb-6">
      <h2 className="mb-2">{title}</h2>
      {children}
    </section>
  );
}

const Line = ({ children }: { children: ReactNode }) => (
  <div className="mb-2 flex flex-wrap items-center gap-3">{children}</div>
);

function Pressed() {
  const looks = ["plain", "primary", "text", "figure"] as const;
  return (
    <Part title="Pressed">
      <Line>
        {looks.map((look) => (
          <Button key={look} look={look}>
            {look}
          </Button>
        ))}
        <a className={LINK} href="#here">
          a link
        </a>
      </Line>
      <Line>
        {looks.map((look) => (
          <Button key={look} look={look} disabled>
            {look}, disabled
          </Button>
        ))}
      </Line>
      <div className="bg-neutral p-3 text-neutral-content">
        <Button>plain, in the head</Button> <Key>/</Key> <ThemeSwitch />
      </div>
    </Part>
  );
}

const SAID = "4 edit seats play 220 Mb/s, gold";

function Marked() {
  const marks = [
    { start: 0, end: 25, isKnown: true },
    { start: 27, end: 31, isKnown: false },
  ];
  return (
    <MarkedText
      ref={null}
      value={SAID}
      marks={marks}
      onChange={nothing}
      onEnter={nothing}
      aria-label="A marked text"
      aria-invalid={undefined}
      aria-describedby="said"
      placeholder=""
    />
  );
}

function Entered() {
  return (
    <Part title="Entered">
      <Marked />
      <Row of="a-number" label="A number" unit="TB">
        <Input id="a-number" className={numberLook("16")} defaultValue="16" />
      </Row>
      <Row
        of="a-refused"
        label="Refused"
        beside={<i className="faint ml-2 text-xs">was 16</i>}
        below={<Problem id="why" of="Size each: 0 is too small; at least 1 GB is accepted." />}
      >
        <Input
          id="a-refused"
          className={numberLook("16")}
          aria-invalid
          aria-describedby="why"
          defaultValue="0"
        />
      </Row>
      <Row of="a-text" label="A text">
        <Input id="a-text" className="w-44" placeholder="Not said yet" />
      </Row>
      <Row of="a-date" label="A date">
        <Input id="a-date" type="date" className="w-44" defaultValue="2028-03-31" />
      </Row>
      <Row of="a-closed" label="Read only">
        <Input id="a-closed" className="w-44" disabled defaultValue="Boathouse pool" />
      </Row>
      <Row of="a-choice" label="A choice">
        <Select id="a-choice">
          <option>Double parity</option>
          <option>Single parity</option>
        </Select>
      </Row>
      <Row of="no-choice" label="A closed choice">
        <Select id="no-choice" disabled>
          <option>Double parity</option>
        </Select>
      </Row>
      <Chosen />
    </Part>
  );
}

function Chosen() {
  return (
    <>
      <Row of="a-tick" label="Yes">
        <Checkbox id="a-tick" defaultChecked />
      </Row>
      <Row of="no-tick" label="No, closed">
        <Checkbox id="no-tick" disabled />
      </Row>
      <Fieldset legend="One of two">
        <label className="mr-4">
          <Radio name="of-two" defaultChecked /> Theirs
        </label>
        <label>
          <Radio name="of-two" /> Mine
        </label>
      </Fieldset>
      <Offer
        label="An offer"
        words="Add one of …"
        from={[{ id: "one", name: "16 TB disk" }]}
        onChoose={nothing}
      />
      <ClassChoice
        id="a-class"
        label="Class of drive"
        classes={[{ id: "one", name: "16 TB disk, 7200 rpm, CMR, array class" }]}
        value="one"
        disabled={false}
        problem="What was refused stands here."
        onChoose={nothing}
      />
      <div className="mt-2">
        <FileDrop onFile={nothing}>Drop a file here, or choose one:</FileDrop>
      </div>
    </>
  );
}

function Said() {
  return (
    <Part title="Said">
      <p id="said">
        A word that explains itself: <Terms of="a hot spare" />.
      </p>
      <Notice>
        <span>Somebody else&apos;s changes came in with yours.</span>
        <Button look="text">Dismiss</Button>
      </Notice>
      <Cautions of={["drives"]} />
      <Problem of="What is wrong, and what would be right." />
      <Waiting>Working it out …</Waiting>
      <Line>
        <Count of={3} what="open findings" />
        {(["enough", "tight", "short", "open"] as const).map((verdict, n) => (
          <span key={verdict} className={`flex items-center gap-2 state-${verdict}`}>
            <Beam verdict={verdict} ratio={1.4 - n * 0.4} /> {verdict}
          </span>
        ))}
      </Line>
    </Part>
  );
}

function Laid() {
  const [tab, setTab] = useState("one");
  return (
    <Part title="Laid out">
      <Tabs
        label="Tabs"
        tabs={[
          { id: "one", name: "Boathouse pool" },
          { id: "two", name: "Signal pool" },
        ]}
        chosen={tab}
        choose={setTab}
      />
      <Table aria-label="A table">
        <Heads of={["Pool", "#Plannable", "-Remove"]} />
        <tbody>
          <tr>
            <td>Boathouse pool</td>
            <td className="num">74.5 TB</td>
            <td>
              <Button look="text">✕</Button>
            </td>
          </tr>
        </tbody>
      </Table>
      <Fold title="A fold" said="closed">
        inside
      </Fold>
      <Fold title="A fold" said="open" open>
        inside
      </Fold>
      <Entry name="An entry" figure="27.5 MB/s" open={false}>
        inside
      </Entry>
      <Entry name="Another entry" figure="12.5 MB/s" open>
        inside
      </Entry>
      <Behind title="Behind a line">inside</Behind>
      <More of="an item">inside</More>
    </Part>
  );
}

function Gallery() {
  const [over, setOver] = useState<"" | "panel" | "palette">("");
  const close = () => setOver("");
  return (
    <main className="relative grid min-h-dvh gap-x-10 p-6 md:grid-cols-2">
      <Hatches />
      <h1 className="mb-4 text-2xl md:col-span-2">The kit</h1>
      <TermCard />
      <div>
        <Pressed />
        <Said />
        <Laid />
        <Part title="Over the page">
          <Button onClick={() => setOver("panel")}>Open the side panel</Button>{" "}
          <Button onClick={() => setOver("palette")}>Open the palette</Button>
        </Part>
      </div>
      <Entered />
      <Part title="How far long work is">
        <Progress label="Days drawn" done={120} of={200} />
      </Part>
      <Part title="Chosen from by key">
        <Listbox
          id="gallery"
          label="Pools"
          entries={["Main pool", "Signal pool"]}
          at={0}
          keyOf={(entry) => entry}
          onTake={nothing}
          className="max-w-56"
          entryLook="py-1"
        >
          {(entry, faint) => <span className={faint}>{entry}</span>}
        </Listbox>
      </Part>
      {over === "panel" && (
        <SidePanel title="A side panel" onClose={close}>
          Escape closes it.
        </SidePanel>
      )}
      {over === "palette" && (
        <Palette
          typed=""
          onType={nothing}
          found={[{ id: "findings", kind: "do", name: "Findings", keys: "f", run: nothing }]}
          isLooking={false}
          onClose={close}
        />
      )}
    </main>
  );
}

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <Gallery />
    </StrictMode>,
  );
}
