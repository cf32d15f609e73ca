// The region that a frame can come to, with its target and the other frames.
import { style } from "./chart.js";

const data = document.getElementById("reach");
const canvas = document.getElementById("reach-chart");

function span(values) {
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const margin = 0.35 * (most - least) || 1;
  const round = (value) => Number(value.toPrecision(4));
  return { min: round(least - margin), max: round(most + margin) };
}

function draw() {
  const { low, high, now, others, target, across, up } = JSON.parse(data.textContent);
  // Frames far away would make the region small: they stand in the table below.
  const near = [...high, ...low, ...(target ?? []), ...(now ? [now] : [])];
  const axis = (text, key) => ({
    type: "linear",
    ...span(near.map((each) => each[key])),
    grid: { color: style("--line") },
    ticks: { color: style("--quiet"), includeBounds: false },
    title: { display: true, text, color: style("--quiet") },
  });
  const line = { showLine: true, pointRadius: 0, borderWidth: 2, tension: 0 };
  const region = { ...line, borderColor: style("--teal"), backgroundColor: style("--teal-soft") };
  const point = (label, points, colour, pointStyle, radius) => ({
    label,
    data: points,
    backgroundColor: colour,
    borderColor: colour,
    pointStyle,
    pointRadius: radius,
  });
  // The first lies on top.
  const datasets = [
    point("other frames", others, style("--faint"), "circle", 4),
    { label: "within reach", data: [...high, ...low.toReversed(), high[0]], fill: "shape", ...region },
  ];
  if (now) datasets.unshift(point("this frame now", [now], style("--ink"), "triangle", 8));
  if (target) {
    datasets.unshift({
      label: "target",
      data: target,
      ...line,
      borderColor: style("--brass"),
      borderDash: [5, 3],
    });
  }
  new window.Chart(canvas, {
    type: "scatter",
    data: { datasets },
    options: {
      animation: false,
      maintainAspectRatio: false,
      scales: { x: axis(across, "x"), y: axis(up, "y") },
      plugins: {
        legend: { labels: { color: style("--ink"), usePointStyle: true } },
        tooltip: {
          callbacks: {
            label: ({ raw, dataset }) => `${raw.name ?? dataset.label}: ${raw.x}, ${raw.y}`,
          },
        },
      },
    },
  });
}
if (data) draw();
