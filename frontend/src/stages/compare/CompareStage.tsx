import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { client, dataOf, type SideBySide, type WhatIf } from "../../api/client";
import { Button } from "../../kit/Button";
import { Fieldset } from "../../kit/Fieldset";
import { Checkbox, Offer, Range } from "../../kit/Input";
import { saveText } from "../../kit/save";
import { Waiting } from "../../kit/Notice";
import { Problem } from "../../kit/Problem";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { OwnerPageLinks } from "../../plan/OwnerPageLinks";
import { usePlans } from "../../studio/usePlans";
import { CompareTable } from "./CompareTable";
import { MOST, useCompared, useSideBySide, type Compared } from "./useCompared";

const AS_IT_IS: Required<WhatIf> = { seats_percent: 100, rate_percent: 100, growth_percent: 0 };

/** Two to four plans on the same brief and measures, the first one being what the others are held against. */
export function CompareStage() {
  const compared = useCompared();
  const [whatIf, setWhatIf] = useState(AS_IT_IS);
  const [sameBrief, setSameBrief] = useState(true);
  const answer = useSideBySide(compared.plans, whatIf, sameBrief);
  return (
    <div className="p-[1.4rem]">
      <div className="flex flex-wrap items-baseline justify-between gap-x-6">
        <h2>Side by side</h2>
        <OwnerPageLinks />
      </div>
      <div className="mt-1 flex flex-wrap items-end gap-x-6 gap-y-2">
        <Choose compared={compared} />
        <WhatIfs whatIf={whatIf} set={setWhatIf} />
        <label className="flex items-center gap-2">
          <Checkbox checked={sameBrief} onChange={(e) => setSameBrief(e.target.checked)} />
          All on the baseline's brief
        </label>
        {answer.data && (
          <Export told={answer.data} plans={compared.plans} whatIf={whatIf} sameBrief={sameBrief} />
        )}
      </div>
      {compared.plans.length < 2 && (
        <p className="mt-3">
          Choose one to three others: plans of this studio, or earlier revisions of this one.
        </p>
      )}
      <Problem of={answer.error} />
      {answer.isLoading && compared.plans.length > 1 && <Waiting>Judging them all …</Waiting>}
      {answer.data && compared.plans.length > 1 && (
        <CompareTable told={answer.data} drop={compared.drop} pin={compared.pin} />
      )}
    </div>
  );
}

/** Another plan, or an earlier revision of this one. */
function Choose({ compared }: { compared: ReturnType<typeof useCompared> }) {
  const { studio, planId } = usePlanTools();
  const { plan } = useSnapshot();
  const { rows } = usePlans(studio, true);
  const revisions = useQuery({
    queryKey: ["revisions to compare", planId, plan.head],
    queryFn: () =>
      dataOf(
        client.GET("/api/studios/{studio}/plans/{plan_id}/revisions", {
          params: { path: { studio, plan_id: planId } },
        }),
      ),
  });
  if (compared.plans.length >= MOST) return <p className="faint">Four are as many as fit.</p>;
  const is = (one: Compared) =>
    compared.plans.some((each) => each.plan_id === one.plan_id && each.revision === one.revision);
  const plans = (rows ?? []).filter((row) => !is({ plan_id: row.id, revision: null }));
  const earlier = (revisions.data?.revisions ?? []).filter(
    (each) => each.number !== plan.head && !is({ plan_id: planId, revision: each.number }),
  );
  return (
    <>
      <Offer
        className="max-w-56"
        label="Another plan"
        words="Another plan …"
        from={plans}
        onChoose={(id) => compared.add({ plan_id: id, revision: null })}
      />
      <Offer
        className="max-w-56"
        label="An earlier revision"
        words="An earlier revision …"
        from={earlier.map((each) => ({
          id: String(each.number),
          name: `${each.number}: ${each.summary}`.slice(0, 60),
        }))}
        onChoose={(id) => compared.add({ plan_id: planId, revision: Number(id) })}
      />
    </>
  );
}

const SLIDERS = [
  { key: "seats_percent", name: "People", least: 0, most: 300, step: 10, unit: "%" },
  { key: "rate_percent", name: "Footage rate", least: 50, most: 300, step: 10, unit: "%" },
  { key: "growth_percent", name: "Growth a year", least: 0, most: 100, step: 5, unit: "% more" },
] as const;

function WhatIfs({
  whatIf,
  set,
}: {
  whatIf: Required<WhatIf>;
  set: (to: Required<WhatIf>) => void;
}) {
  const isChanged = JSON.stringify(whatIf) !== JSON.stringify(AS_IT_IS);
  return (
    <Fieldset legend="What if, for all of them">
      <div className="flex flex-wrap items-end gap-4">
        {SLIDERS.map(({ key, name, least, most, step, unit }) => (
          <div key={key} className="text-sm">
            <label htmlFor={`what-if-${key}`} className="flex justify-between gap-3">
              <span>{name}</span>
              <span>
                {whatIf[key]} {unit}
              </span>
            </label>
            <Range
              id={`what-if-${key}`}
              min={least}
              max={most}
              step={step}
              value={whatIf[key]}
              onChange={(event) => set({ ...whatIf, [key]: Number(event.target.value) })}
            />
          </div>
        ))}
        {isChanged && (
          <Button look="text" onClick={() => set(AS_IT_IS)}>
            As it is
          </Button>
        )}
      </div>
    </Fieldset>
  );
}

/** The comparison as a file. */
function Export({
  told,
  plans,
  whatIf,
  sameBrief,
}: {
  told: SideBySide;
  plans: readonly Compared[];
  whatIf: WhatIf;
  sameBrief: boolean;
}) {
  const { studio } = usePlanTools();
  const save = async () => {
    const text = await dataOf<unknown>(
      client.POST("/api/studios/{studio}/side-by-side.csv", {
        params: { path: { studio } },
        body: { plans: [...plans], what_if: whatIf, same_brief: sameBrief },
        parseAs: "text",
      }) as Promise<{ data?: unknown }>,
    );
    saveText("compare.csv", String(text));
  };
  return (
    <Button look="text" onClick={() => void save()}>
      Save as CSV<span className="sr-only"> of {told.columns.length} plans</span>
    </Button>
  );
}
