// Which rows are shown, in which order, and what their amounts come to.
import { stateOf } from "./grid.js";

export function shownRows(rows, { type, which, find }, sorted) {
  const wanted = find.trim().toLowerCase();
  const fitting = rows.filter((row) =>
    (!type || row.type === type)
    && (which !== "open" || ["fails", "doubtful"].includes(stateOf(row)))
    && (which !== "mine" || row.open)
    && (!wanted || row.file.toLowerCase().includes(wanted)
      || Object.values(row.cells).some((cell) => cell.shown.toLowerCase().includes(wanted))));
  return sorted ? fitting.sort((a, b) => compared(a, b, sorted)) : fitting;
}

// Empty cells come last, whichever way it is sorted.
function compared(a, b, { key, sheet, down }) {
  const [one, other] = [kept(a, key), kept(b, key)];
  if (!one || !other) return (one ? 0 : 1) - (other ? 0 : 1);
  const by = sheet === "money" || sheet === "number" ? Number(one) - Number(other) : one.localeCompare(other, undefined, { numeric: true });
  return down ? -by : by;
}

function kept(row, key) {
  if (key === "file") return row.file;
  if (key === "state") return stateOf(row);
  const cell = row.cells[key];
  return cell ? cell.kept || cell.shown : "";
}

// By column of amounts its sum, exactly, in whole units of the last decimal; by currency where there are several.
export function sumsOf(columns, rows) {
  const sums = {};
  const currency = columns.find((one) => one.key === "currency");
  for (const column of columns.filter((one) => one.sheet === "money")) {
    const by = new Map();
    for (const row of rows) {
      const amount = kept(row, column.key);
      if (!/^-?\d+(\.\d+)?$/.test(amount)) continue;
      const money = currency ? row.cells.currency?.shown || "" : "";
      by.set(money, (by.get(money) ?? 0n) + units(amount));
    }
    const parts = [...by].filter(([, sum]) => sum !== 0n).map(([money, sum]) => (by.size > 1 ? `${money} ${written(sum)}` : written(sum)));
    sums[column.key] = parts.join(" · ");
  }
  return sums;
}

const DECIMALS = 4;

function units(amount) {
  const [whole, part = ""] = amount.replace("-", "").split(".");
  const value = BigInt(whole + part.padEnd(DECIMALS, "0").slice(0, DECIMALS));
  return amount.startsWith("-") ? -value : value;
}

function written(sum) {
  const digits = String(sum < 0n ? -sum : sum).padStart(DECIMALS + 1, "0");
  const whole = digits.slice(0, -DECIMALS).replace(/\B(?=(\d{3})+$)/g, ",");
  return `${sum < 0n ? "-" : ""}${whole}.${digits.slice(-DECIMALS, -DECIMALS + 2)}`;
}
