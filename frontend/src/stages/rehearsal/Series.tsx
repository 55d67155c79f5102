import { useEffect, useRef } from "react";
import uPlot from "uplot";
import "uplot/dist/uPlot.min.css";

interface Props {
  xs: readonly number[];
  ys: readonly number[];
  from: number;
  to: number;
  most: number;
  /** Changes evenly from moment to moment, in place of standing still between them. */
  isSloped: boolean;
}

const themed = (element: HTMLElement, name: string) =>
  getComputedStyle(element).getPropertyValue(`--color-${name}`).trim();

/** What is used of something over the day, as a chart without axes that fills the place around it. */
export function Series(props: Props) {
  const place = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const around = place.current;
    if (!around) return;
    const chart = charted(around, props);
    const size = new ResizeObserver(() =>
      chart.setSize({ width: around.clientWidth, height: around.clientHeight }),
    );
    size.observe(around);
    const theme = new MutationObserver(() => chart.redraw());
    theme.observe(document.documentElement, { attributeFilter: ["data-theme"] });
    const dark = matchMedia("(prefers-color-scheme: dark)");
    const redraw = () => chart.redraw();
    dark.addEventListener("change", redraw);
    return () => {
      size.disconnect();
      theme.disconnect();
      dark.removeEventListener("change", redraw);
      chart.destroy();
    };
  }, [props]);
  return <div ref={place} className="h-full w-full" />;
}

function charted(around: HTMLElement, { xs, ys, from, to, most, isSloped }: Props): uPlot {
  const last = ys.at(-1) ?? 0;
  const paths = isSloped ? uPlot.paths.linear?.() : uPlot.paths.stepped?.({ align: 1 });
  return new uPlot(
    {
      width: around.clientWidth,
      height: around.clientHeight,
      padding: [0, 0, 0, 0],
      legend: { show: false },
      cursor: { show: false },
      axes: [{ show: false }, { show: false }],
      scales: {
        x: { time: false, range: () => [from, to] },
        y: { range: () => [0, most] },
      },
      series: [
        {},
        {
          stroke: () => themed(around, "base-content"),
          fill: () => `color-mix(in oklab, ${themed(around, "primary")} 42%, transparent)`,
          width: 1,
          points: { show: false },
          ...(paths && { paths }),
        },
      ],
    },
    [
      [...xs, to],
      [...ys, last],
    ],
    around,
  );
}
