import { useId, type SubmitEvent } from "react";

import type { Device } from "../../api/client";
import { dateText, todayIso } from "../../kit/format";
import type { StockTools } from "./useStock";
import { Row } from "../../kit/Row";
import { Button } from "../../kit/Button";
import { Checkbox, Input } from "../../kit/Input";
import { Problem } from "../../kit/Problem";

type FormEvent = SubmitEvent<HTMLFormElement>;

/** Who has the device; handing it over and taking it back are noted in its log. */
export function HandOver({ device, tools }: { device: Device; tools: StockTools }) {
  return (
    <>
      <h3 className="mt-5 mb-1">Handed over</h3>
      {device.holder ? (
        <Receive device={device} tools={tools} />
      ) : (
        <Give device={device} tools={tools} />
      )}
    </>
  );
}

function Receive({ device, tools: { takeBack } }: { device: Device; tools: StockTools }) {
  const id = useId();
  const receive = (event: FormEvent) => {
    event.preventDefault();
    const place = String(new FormData(event.currentTarget).get("place"));
    takeBack.mutate({ id: device.id, place });
  };
  return (
    <form onSubmit={receive}>
      <p>
        With {device.holder}
        {device.handed_on ? ` since ${dateText(device.handed_on)}` : ""},{" "}
        {device.is_encrypted ? "encrypted" : "not encrypted"}.
      </p>
      <Row of={id} label="Put back at" unit={<Button type="submit">It is back</Button>}>
        <Input id={id} name="place" className="w-40" defaultValue={device.place} />
      </Row>
      <Problem of={takeBack.error} />
    </form>
  );
}

function Give({ device, tools: { handOver } }: { device: Device; tools: StockTools }) {
  const id = useId();
  const give = (event: FormEvent) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    handOver.mutate({
      id: device.id,
      to: String(form.get("to")),
      on: String(form.get("on")) || null,
      is_encrypted: form.get("encrypted") === "on",
    });
  };
  return (
    <form onSubmit={give}>
      <Row of={`${id}-to`} label="To whom">
        <Input id={`${id}-to`} name="to" className="w-40" required maxLength={400} />
      </Row>
      <Row of={`${id}-on`} label="On">
        <Input id={`${id}-on`} name="on" type="date" className="w-40" defaultValue={todayIso()} />
      </Row>
      <Row of={`${id}-encrypted`} label="What is on it is encrypted">
        <Checkbox id={`${id}-encrypted`} name="encrypted" defaultChecked={device.is_encrypted} />
      </Row>
      <Button type="submit" className="mt-1">
        Hand over
      </Button>
      <Problem of={handOver.error} />
    </form>
  );
}
