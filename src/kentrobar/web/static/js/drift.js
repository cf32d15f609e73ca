// The drift of an instrument over its calibrations.
import { drawLines } from "./chart.js";

const data = document.getElementById("drift");
if (data) {
  const { days, off } = JSON.parse(data.textContent);
  drawLines("drift-chart", days, [{ name: "added to the reading", values: off }]);
}
