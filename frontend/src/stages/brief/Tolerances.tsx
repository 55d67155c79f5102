import { Choice, Quantity, TextField } from "../../plan/fields";
import { useSnapshot } from "../../plan/context";

const LIMITS = "plan/brief/limits";

/** The outside line, the room, what may be lost and stand still, and the people who keep it. */
export function Tolerances() {
  const { document } = useSnapshot();
  const tolerances = document.plan.brief.limits?.tolerances ?? [];
  return (
    <>
      <h3 className="mt-2">Outside line</h3>
      <Quantity field="OutsideLine.up_bytes_per_s" path={`${LIMITS}/line/up_bytes_per_s`} />
      <Quantity field="OutsideLine.down_bytes_per_s" path={`${LIMITS}/line/down_bytes_per_s`} />
      <h3 className="mt-3">Room</h3>
      <Quantity field="Room.noise_dba_max" path={`${LIMITS}/room/noise_dba_max`} />
      <Quantity field="Room.circuit_watts" path={`${LIMITS}/room/circuit_watts`} />
      <Choice field="Room.air" path={`${LIMITS}/room/air`} />
      <Quantity field="Room.air_m3_per_h" path={`${LIMITS}/room/air_m3_per_h`} />
      <p className="faint text-sm">
        Loads on a circuit and air for a closet are for a licensed electrician and the local code.
      </p>
      <h3 className="mt-3">May be lost, may stand still</h3>
      {tolerances.map((tolerance) => {
        const path = `${LIMITS}/tolerances/${tolerance.id}`;
        return (
          <div
            key={tolerance.id}
            className="flex flex-wrap items-center gap-2 border-b border-base-300 py-1"
          >
            <span className="grow">{tolerance.id}</span>
            <span>loses</span>
            <Quantity
              bare
              field="Tolerance.loss_hours"
              path={`${path}/loss_hours`}
              label={`${tolerance.id}: may lose the work of`}
            />
            <span>h, stands</span>
            <Quantity
              bare
              field="Tolerance.downtime_hours"
              path={`${path}/downtime_hours`}
              label={`${tolerance.id}: may stand still for`}
            />
            <span>h</span>
          </div>
        );
      })}
      <h3 className="mt-3">People</h3>
      <Quantity field="Limits.upkeep_hours_per_month" path={`${LIMITS}/upkeep_hours_per_month`} />
      <Choice field="Limits.skill" path={`${LIMITS}/skill`} />
      <Choice field="Limits.support" path={`${LIMITS}/support`} />
      <Choice field="Limits.reuse" path={`${LIMITS}/reuse`} />
      <TextField field="Limits.ready_by" path={`${LIMITS}/ready_by`} type="date" />
    </>
  );
}
