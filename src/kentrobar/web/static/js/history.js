// Specs of a frame over time: one chart a spec, one line a build, with what happened in between.
import { spreads, style } from "./chart.js";
import { whenShown } from "./shown.js";

const SHAPES = ["circle", "rectRot", "triangle", "rect"];
const COLOURS = ["--teal", "--brass", "--faint", "--ink"];

const DAY_MS = 86_400_000;

const day = (ms) =>
  new Date(ms).toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "2-digit" });

const hour = (ms) => new Date(ms).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });

/** Draws what happened as thin upright lines. */
const happened = (marks) => ({
  id: "happened",
  beforeDatasetsDraw({ ctx, chartArea, scales }) {
    ctx.save();
    ctx.strokeStyle = style("--line");
    ctx.setLineDash([3, 3]);
    for (const { at } of marks) {
      const x = scales.x.getPixelForValue(at);
      if (x < chartArea.left || x > chartArea.right) continue;
      ctx.beginPath();
      ctx.moveTo(x, chartArea.top);
      ctx.lineTo(x, chartArea.bottom);
      ctx.stroke();
    }
    ctx.restore();
  },
});

function draw(line, marks, canvas) {
  const points = Object.values(line.builds).flat();
  const [first, last] = [Math.min(...points.map(({ x }) => x)), Math.max(...points.map(({ x }) => x))];
  const isShort = last - first < 2 * DAY_MS;
  const margin = 0.04 * (last - first) || DAY_MS / 2;
  const ticks = { color: style("--quiet"), maxTicksLimit: 6 };
  const grid = { color: style("--line") };
  new window.Chart(canvas, {
    type: "scatter",
    data: {
      datasets: Object.entries(line.builds).map(([label, data], i) => ({
        label,
        data,
        showLine: true,
        borderWidth: 1.5,
        pointStyle: SHAPES[i % SHAPES.length],
        pointRadius: 4,
        borderColor: style(COLOURS[i % COLOURS.length]),
        backgroundColor: style(COLOURS[i % COLOURS.length]),
      })),
    },
    options: {
      animation: false,
      maintainAspectRatio: false,
      scales: {
        x: {
          grid,
          min: first - margin,
          max: last + margin,
          ticks: {
            ...ticks,
            callback: (ms) => (isShort ? hour(ms) : day(ms)),
            maxTicksLimit: 5,
            includeBounds: false,
          },
        },
        y: {
          grid,
          ticks,
          suggestedMin: Math.min(...points.map(({ y, u }) => y - u)),
          suggestedMax: Math.max(...points.map(({ y, u }) => y + u)),
        },
      },
      plugins: {
        title: { display: true, text: `${line.name}, ${line.unit}`, color: style("--ink"), align: "start" },
        legend: {
          display: Object.keys(line.builds).length > 1,
          labels: { color: style("--ink"), usePointStyle: true, pointStyleWidth: 10 },
          align: "end",
        },
        tooltip: {
          callbacks: {
            label: ({ raw, dataset }) => `${day(raw.x)}: ${raw.y} ± ${raw.u}, ${dataset.label}`,
          },
        },
      },
    },
    plugins: [happened(marks), spreads],
  });
}

whenShown("#history-charts", (told) => {
  const { lines, marks } = JSON.parse(told.textContent);
  for (const [i, line] of lines.entries()) draw(line, marks, document.getElementById(`chart-${i}`));
});
