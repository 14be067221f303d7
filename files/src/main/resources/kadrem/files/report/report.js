"use strict";
// A press on a column's head sorts its table; the same press again turns the order round.
for (const head of document.querySelectorAll("thead th")) {
  head.classList.add("sortable");
  head.tabIndex = 0;
  const sort = () => {
    const table = head.closest("table");
    const column = [...head.parentNode.children].indexOf(head);
    const down = head.getAttribute("aria-sort") === "ascending";
    for (const other of head.parentNode.children) other.removeAttribute("aria-sort");
    head.setAttribute("aria-sort", down ? "descending" : "ascending");
    const value = row => row.children[column].dataset.sort ?? row.children[column].textContent;
    const compare = (a, b) => {
      const x = value(a), y = value(b), n = Number(x) - Number(y);
      return Number.isNaN(n) ? x.localeCompare(y) : n;
    };
    const body = table.tBodies[0];
    const rows = [...body.rows].sort(compare);
    if (down) rows.reverse();
    body.append(...rows);
  };
  head.addEventListener("click", sort);
  head.addEventListener("keydown", event => {
    if (event.key === "Enter" || event.key === " ") { event.preventDefault(); sort(); }
  });
}
// The value under the pointer, read beside it.
const reading = document.createElement("div");
reading.id = "reading";
reading.hidden = true;
document.body.append(reading);
for (const value of document.querySelectorAll("svg .value")) {
  const title = value.querySelector("title");
  const text = title.textContent;
  value.setAttribute("aria-label", text);
  title.remove();
  value.addEventListener("pointermove", event => {
    reading.textContent = text;
    reading.hidden = false;
    reading.style.left = Math.min(event.clientX + 14, innerWidth - reading.offsetWidth - 8) + "px";
    reading.style.top = Math.max(4, event.clientY - reading.offsetHeight - 10) + "px";
  });
  value.addEventListener("pointerleave", () => { reading.hidden = true; });
}
