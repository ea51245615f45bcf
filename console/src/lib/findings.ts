/** Findings of the whole catalog, gathered by rule for the picture. */

import type { Level, SummaryRow } from "../api/types";

export interface RuleRow {
  rule: string;
  family: string;
  /** The worst level at which the rule speaks anywhere. */
  level: Level;
  /** How many findings there are, by team. */
  teams: Map<string, number>;
  total: number;
}

const LEVELS: Level[] = ["error", "warning", "note"];

/** Gather rows by rule: worst level first, then those that speak most; `least` is the least level shown. */
export function byRule(rows: SummaryRow[], least: string, all: boolean): RuleRow[] {
  const shown = least ? LEVELS.slice(0, LEVELS.indexOf(least as Level) + 1) : LEVELS;
  const rules = new Map<string, RuleRow>();
  for (const row of rows) {
    const count = row.counting + (all ? row.waived + row.known : 0);
    if (count === 0 || !shown.includes(row.level)) continue;
    const rule = rules.get(row.rule) ?? {
      rule: row.rule,
      family: row.family,
      level: row.level,
      teams: new Map(),
      total: 0,
    };
    if (LEVELS.indexOf(row.level) < LEVELS.indexOf(rule.level)) rule.level = row.level;
    rule.teams.set(row.team, (rule.teams.get(row.team) ?? 0) + count);
    rule.total += count;
    rules.set(row.rule, rule);
  }
  return [...rules.values()].sort(
    (left, right) =>
      LEVELS.indexOf(left.level) - LEVELS.indexOf(right.level) ||
      right.total - left.total ||
      left.rule.localeCompare(right.rule),
  );
}
