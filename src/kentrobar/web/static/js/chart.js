// Line charts in the house's colours; the numbers come from the server.

export const style = (name) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();

export function drawLines(canvasId, labels, lines, unit) {
  const canvas = document.getElementById(canvasId);
  if (!canvas || !window.Chart) return;
  window.Chart.getChart(canvas)?.destroy();
  const grid = { color: style("--line") };
  const ticks = { color: style("--quiet"), maxTicksLimit: 9 };
  new window.Chart(canvas, {
    type: "line",
    data: {
      labels,
      datasets: lines.map(({ name, values, isPoints }, i) => ({
        label: name,
        data: values,
        borderColor: style(i ? "--brass" : "--teal"),
        backgroundColor: style(i ? "--brass" : "--teal"),
        borderWidth: isPoints ? 0 : 2,
        showLine: !isPoints,
        pointRadius: isPoints ? 1.6 : values.length < 30 ? 4 : 0,
        tension: 0,
      })),
    },
    options: {
      animation: false,
      maintainAspectRatio: false,
      scales: {
        x: { grid, ticks, title: { display: Boolean(unit), text: unit, color: style("--quiet") } },
        y: { grid, ticks },
      },
      plugins: { legend: { labels: { color: style("--ink") } } },
    },
  });
}

/** A plugin that draws the ± of each point: `u`, upright, or across where the chart lies on its side. */
export const spreads = {
  id: "spreads",
  afterDatasetsDraw({ ctx, chartArea, data, scales }) {
    ctx.save();
    ctx.beginPath();
    ctx.rect(chartArea.left, chartArea.top, chartArea.width, chartArea.height);
    ctx.clip();
    for (const dataset of data.datasets) {
      ctx.strokeStyle = dataset.borderColor;
      for (const { x, y, u, isAcross } of dataset.data) {
        const [dx, dy] = isAcross ? [u, 0] : [0, u];
        ctx.beginPath();
        ctx.moveTo(scales.x.getPixelForValue(x - dx), scales.y.getPixelForValue(y - dy));
        ctx.lineTo(scales.x.getPixelForValue(x + dx), scales.y.getPixelForValue(y + dy));
        ctx.stroke();
      }
    }
    ctx.restore();
  },
};
