// What each job told, one under the other with its 95 % interval, and all of them together.
import { spreads, style } from "./chart.js";

const ACROSS_95 = 1.96;

function draw(canvas) {
  const { jobs, together } = JSON.parse(document.getElementById(canvas.dataset.chart).textContent);
  const rows = [...jobs, together];
  const point = ({ value, u, name }, i) => ({
    x: value,
    y: rows.length - i,
    u: ACROSS_95 * u,
    isAcross: true,
    name,
  });
  const all = rows.map(point);
  const set = (data, colour, pointStyle) => ({
    data,
    pointStyle,
    pointRadius: 5,
    borderColor: style(colour),
    backgroundColor: style(colour),
  });
  canvas.parentElement.style.height = `${5 + 1.6 * rows.length}rem`;
  new window.Chart(canvas, {
    type: "scatter",
    data: { datasets: [set(all.slice(0, -1), "--teal", "circle"), set(all.slice(-1), "--brass", "rectRot")] },
    options: {
      animation: false,
      maintainAspectRatio: false,
      scales: {
        x: {
          grid: { color: ({ tick }) => style(tick.value === 0 ? "--ink" : "--line") },
          ticks: { color: style("--quiet") },
          title: { display: true, text: "% from the figure in use", color: style("--quiet") },
          suggestedMin: Math.min(0, ...all.map(({ x, u }) => x - u)),
          suggestedMax: Math.max(0, ...all.map(({ x, u }) => x + u)),
        },
        y: {
          min: 0,
          max: rows.length + 1,
          grid: { display: false },
          ticks: {
            color: style("--ink"),
            stepSize: 1,
            autoSkip: false,
            callback: (y) => rows[rows.length - y]?.name ?? "",
          },
        },
      },
      plugins: {
        legend: { display: false },
        tooltip: {
          callbacks: { label: ({ raw }) => `${raw.name}: ${raw.x} ± ${(raw.u / ACROSS_95).toFixed(1)} %` },
        },
      },
    },
    plugins: [spreads],
  });
}

for (const canvas of document.querySelectorAll("canvas[data-chart]")) draw(canvas);
