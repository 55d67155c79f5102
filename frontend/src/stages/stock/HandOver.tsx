import { useId, type SubmitEvent } from "react";

import type { Device } from "../../api/client";
import { dateText, todayIso } from "../../kit/format";
import type { StockTools } from "./useStock";

/** Who has the device; handing it over and taking it back are noted in its log. */
export function HandOver({ device, tools }: { device: Device; tools: StockTools }) {
  const id = useId();
  const { handOver, takeBack } = tools;
  const give = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    handOver.mutate({
      id: device.id,
      to: String(form.get("to")),
      on: String(form.get("on")) || null,
      is_encrypted: form.get("encrypted") === "on",
    });
  };
  const receive = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    takeBack.mutate({
      id: device.id,
      place: String(new FormData(event.currentTarget).get("place")),
    });
  };
  const failure = device.holder ? takeBack.error : handOver.error;
  return (
    <>
      <h3 className="mt-5 mb-1">Handed over</h3>
      {device.holder ? (
        <form onSubmit={receive}>
          <p>
            With {device.holder}
            {device.handed_on ? ` since ${dateText(device.handed_on)}` : ""},{" "}
            {device.is_encrypted ? "encrypted" : "not encrypted"}.
          </p>
          <div className="row">
            <label htmlFor={`${id}-place`}>Put back at</label>
            <input
              id={`${id}-place`}
              name="place"
              className="field w-40"
              autoComplete="off"
              defaultValue={device.place}
            />
            <button type="submit" className="plain-button">
              It is back
            </button>
          </div>
        </form>
      ) : (
        <form onSubmit={give}>
          <div className="row">
            <label htmlFor={`${id}-to`}>To whom</label>
            <input
              id={`${id}-to`}
              name="to"
              className="field w-40"
              autoComplete="off"
              required
              maxLength={400}
            />
            <span />
          </div>
          <div className="row">
            <label htmlFor={`${id}-on`}>On</label>
            <input
              id={`${id}-on`}
              name="on"
              type="date"
              className="field w-40"
              defaultValue={todayIso()}
            />
            <span />
          </div>
          <div className="row">
            <label htmlFor={`${id}-encrypted`}>What is on it is encrypted</label>
            <input
              id={`${id}-encrypted`}
              name="encrypted"
              type="checkbox"
              defaultChecked={device.is_encrypted}
            />
            <span />
          </div>
          <button type="submit" className="plain-button mt-1">
            Hand over
          </button>
        </form>
      )}
      {failure && (
        <p className="problem" role="alert">
          {failure.message}
        </p>
      )}
    </>
  );
}
