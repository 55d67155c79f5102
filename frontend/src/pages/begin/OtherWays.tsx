import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "react-router";

import { api, asContent, client, dataOf, type NewPlan } from "../../api/client";
import points from "../../generated/starting-points.json";
import { Button } from "../../kit/Button";
import { FileDrop } from "../../kit/FileDrop";
import { Behind } from "../../kit/Fold";
import { Offer } from "../../kit/Input";
import { Waiting } from "../../kit/Notice";
import { Problem } from "../../kit/Problem";
import { JudgeToday } from "../../stages/stock/JudgeToday";
import { usePlans } from "../../studio/usePlans";

interface Props {
  studio: string;
  line: string;
  name: string;
  begin: (wanted: NewPlan) => void;
}

/** A starting point of our own making; or the stock, a plan file, another plan. */
export function OtherWays({ studio, line, name, begin }: Props) {
  return (
    <>
      <section aria-label="Or from a starting point">
        <h2 className="text-base">Or from a starting point</h2>
        <ul>
          {points.map((point) => (
            <li key={point.id} className="border-b border-base-300 py-1">
              <Button
                look="text"
                onClick={() => begin({ name: name || point.title, starting_point: point.id })}
              >
                {point.title}
              </Button>
              <p className="faint text-sm">{point.line}</p>
            </li>
          ))}
        </ul>
      </section>
      <section aria-label="Or from what is there">
        <h2 className="text-base">Or from what is there</h2>
        <ul>
          <li className="border-b border-base-300 py-1">
            <Behind title="The stock as it stands" lazy>
              <FromStock studio={studio} line={line} />
            </Behind>
          </li>
          <li className="border-b border-base-300 py-1">
            <CopyOf studio={studio} name={name} begin={begin} />
          </li>
          <li className="py-1">
            <FromFile studio={studio} />
          </li>
        </ul>
      </section>
    </>
  );
}

/** The drives that are there, for the people of the line. */
function FromStock({ studio, line }: { studio: string; line: string }) {
  const stock = api.useQuery("get", "/api/studios/{studio}/stock", {
    params: { path: { studio } },
  });
  if (stock.isPending) return <Waiting>Looking at the shelf …</Waiting>;
  if (!stock.data?.devices.length) return <p className="faint">Nothing is on the shelf yet.</p>;
  return <JudgeToday studio={studio} devices={stock.data.devices} line={line} />;
}

function CopyOf({ studio, name, begin }: Omit<Props, "line">) {
  const { rows } = usePlans(studio, true);
  if (!rows?.length) return <p className="faint">No other plan to copy yet.</p>;
  const copy = (id: string) => {
    const plan = rows.find((each) => each.id === id);
    if (plan) begin({ name: name || `${plan.name}, copy`.slice(0, 80), copy_of: id });
  };
  return (
    <Offer
      className="max-w-full min-w-0"
      label="A copy of another plan"
      words="A copy of …"
      from={rows}
      onChoose={copy}
    />
  );
}

function FromFile({ studio }: { studio: string }) {
  const navigate = useNavigate();
  const bring = useMutation({
    mutationFn: (file: File) =>
      dataOf(
        client.POST("/api/studios/{studio}/plans/import", {
          params: { path: { studio } },
          body: { file: asContent(file) },
        }),
      ),
    onSuccess: (plan) => navigate(`/s/${studio}/plans/${plan.id}/brief`),
  });
  return (
    <>
      <FileDrop onFile={bring.mutate}>Drop a plan file here, or choose one:</FileDrop>
      <Problem of={bring.error} />
    </>
  );
}
