import type { Evaluation } from "../../api/client";
import { Figure } from "../../plan/Figure";
import { hoursText, sizeText, valueText } from "../../kit/format";
import { useSnapshot } from "../../plan/context";

type Enclosure = Evaluation["tiers"]["enclosures"][number];

/** What the boxes of a pool give besides bays: what their memory hits and holds, and their lanes. */
export function BoxGives({ poolId }: { poolId: string }) {
  const { evaluation } = useSnapshot();
  const homes = evaluation.bays.boxes
    .filter((box) => box.bays.some((bay) => bay.occupant_id === poolId))
    .map((box) => box.id);
  const told = evaluation.tiers.enclosures.filter(
    (box) => homes.includes(box.id) && (box.memory || box.lanes),
  );
  if (!told.length) return null;
  return (
    <dl className="facts mt-1">
      {told.map((box) => (
        <Given key={box.id} box={box} />
      ))}
    </dl>
  );
}

function Given({ box }: { box: Enclosure }) {
  const memory = box.memory;
  return (
    <>
      <dt>{box.name}</dt>
      <dd>
        {memory && (
          <p>
            {sizeText(memory.memory_bytes)} of memory answer{" "}
            <Figure id={`boxes.${box.id}.memory`}>
              {valueText(memory.hit_ratio, "share", "")}
            </Figure>{" "}
            of the reads and take {sizeText(memory.write_buffer_bytes)} of writes at once
            {memory.seconds_fast !== null &&
              `: a copy is fast for ${secondsText(memory.seconds_fast)}, then as slow as the drives`}
            .{" "}
            <span className="faint">
              The house wants {sizeText(memory.recommended_bytes)}
              {memory.dirty_bytes_max > 0 &&
                `; ${sizeText(memory.dirty_bytes_max)} go with the power`}
              .
            </span>
          </p>
        )}
        {box.lanes > 0 && (
          <p>
            {box.lanes_wanted} of {box.lanes} lanes wired
          </p>
        )}
      </dd>
    </>
  );
}

const secondsText = (seconds: number) =>
  seconds < 90 ? `${Math.round(seconds)} s` : hoursText(seconds);
