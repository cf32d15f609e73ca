// Jobs are put on days of the week: dragged, or moved with the arrow keys.

const week = document.getElementById("week");

const csrfToken = () => document.cookie.match(/(?:^|; )csrftoken=([^;]+)/)?.[1];

const cardsOf = (day) => [...day.querySelectorAll(".job-card")];

/** Put a card on a day at a place; the week is then shown as the server has it. */
async function put(card, day, place) {
  const { put: address } = card.dataset;
  const body = new URLSearchParams({
    day: day.dataset.day,
    place,
    week: week.querySelector(".week").dataset.monday,
  });
  let answer;
  try {
    answer = await fetch(address, { method: "POST", headers: { "X-CSRFToken": csrfToken() }, body });
  } catch {
    return say("Not saved: no connection. Try again.");
  }
  if (!answer.ok) return say("Not saved. Reload the page and try again.");
  week.innerHTML = await answer.text();
  week.querySelector(`[data-put="${address}"]`)?.focus();
  const there = week.querySelector(`[data-put="${address}"]`)?.closest(".day").querySelector("h3");
  say(`On ${there?.textContent.trim() ?? "no day"}.`);
}

function say(text) {
  const said = week.querySelector("#week-said");
  said.textContent = text;
  said.classList.toggle("visually-hidden", !text.startsWith("Not"));
}

/** Where an arrow key moves a card, as the week stands once all moves before it are answered. */
function moveByKey(address, key) {
  const card = week.querySelector(`[data-put="${address}"]`);
  if (!card) return null;
  const day = card.closest(".day");
  const days = [...week.querySelectorAll(".day")];
  const place = cardsOf(day).indexOf(card);
  if (key === "ArrowUp" || key === "ArrowDown") {
    return put(card, day, Math.max(0, place + (key === "ArrowUp" ? -1 : 1)));
  }
  const next = days[days.indexOf(day) + (key === "ArrowLeft" ? -1 : 1)];
  return next && put(card, next, cardsOf(next).length);
}

let moved = Promise.resolve(); // one after the other: an answer replaces the whole week
week?.addEventListener("keydown", (event) => {
  const card = event.target;
  if (!card.matches?.(".job-card") || !event.key.startsWith("Arrow")) return;
  event.preventDefault();
  const { put: address } = card.dataset;
  moved = moved.then(() => moveByKey(address, event.key));
});

let held = null;
week?.addEventListener("dragstart", (event) => {
  held = event.target.closest(".job-card");
  event.dataTransfer.effectAllowed = "move";
  event.dataTransfer.setData("text/plain", held?.dataset.put ?? "");
});
week?.addEventListener("dragover", (event) => {
  const day = held && event.target.closest(".day");
  if (!day) return;
  event.preventDefault();
  for (const each of week.querySelectorAll(".day")) each.classList.toggle("is-over", each === day);
});
week?.addEventListener("dragend", () => {
  for (const each of week.querySelectorAll(".day")) each.classList.remove("is-over");
  held = null;
});
week?.addEventListener("drop", (event) => {
  const day = held && event.target.closest(".day");
  if (!day) return;
  event.preventDefault();
  const others = cardsOf(day).filter((each) => each !== held);
  const before = others.findIndex((each) => {
    const box = each.getBoundingClientRect();
    return event.clientY < box.top + box.height / 2;
  });
  put(held, day, before < 0 ? others.length : before);
});
