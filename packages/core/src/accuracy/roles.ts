import { type Mark, type MarkRole } from './marks';

/** Gives a role to every mark whose name, code or note fits the text; `*` stands for anything, case does not count. */
export interface RoleRule {
  text: string;
  where: 'name' | 'code' | 'note';
  role: MarkRole;
}

export interface ProposedRole {
  name: string;
  role: MarkRole;
  /** What decided it, in words; undefined when nothing did and the role stays. */
  why?: string;
}

function fits(text: string, value: string): boolean {
  const parts = text
    .trim()
    .split('*')
    .map((part) => part.replace(/[.+?^${}()|[\]\\]/g, '\\$&'));
  return new RegExp(`^${parts.join('.*')}$`, 'i').test(value.trim());
}

/** Roles by the first rule that fits each mark. Rules without text fit nothing. */
export function rolesByRules(marks: Mark[], rules: RoleRule[]): ProposedRole[] {
  return marks.map((mark) => {
    const rule = rules.find((r) => r.text.trim() !== '' && fits(r.text, mark[r.where] ?? ''));
    return rule
      ? { name: mark.name, role: rule.role, why: `${rule.where} ${rule.text.trim()}` }
      : { name: mark.name, role: mark.role };
  });
}

/**
 * Splits marks into check and control so that both lie all over the area: the marks are cut again and again at the
 * middle of their longer side until there is one group for each check mark (a balanced k-d partition),
 * and of each group the mark nearest its centre is to check. Unused and left-out marks stay as they are.
 * @param checks number of check marks wanted, from 0 to the number of marks that can be split.
 */
export function splitByArea(marks: Mark[], checks: number): ProposedRole[] {
  const free = marks.filter((m) => m.role !== 'unused' && !m.leftOutReason);
  const chosen = new Set<Mark>();
  const cut = (group: Mark[], wanted: number): void => {
    if (wanted <= 0 || group.length === 0) return;
    if (wanted >= group.length) {
      for (const m of group) chosen.add(m);
      return;
    }
    if (wanted === 1) {
      chosen.add(nearestCentre(group));
      return;
    }
    const spread = (of: (m: Mark) => number) => Math.max(...group.map(of)) - Math.min(...group.map(of));
    const along =
      spread((m) => m.eastingM) > spread((m) => m.northingM) ? ('eastingM' as const) : ('northingM' as const);
    const sorted = [...group].sort((a, b) => a[along] - b[along] || a.name.localeCompare(b.name));
    const first = wanted >> 1;
    const at = Math.round((group.length * first) / wanted);
    cut(sorted.slice(0, at), first);
    cut(sorted.slice(at), wanted - first);
  };
  cut(free, Math.round(checks));
  const split = new Set(free);
  return marks.map((m) =>
    split.has(m)
      ? { name: m.name, role: chosen.has(m) ? 'check' : 'control', why: 'split by area' }
      : { name: m.name, role: m.role },
  );
}

function nearestCentre(group: Mark[]): Mark {
  const e = group.reduce((s, m) => s + m.eastingM, 0) / group.length;
  const n = group.reduce((s, m) => s + m.northingM, 0) / group.length;
  const off = (m: Mark) => Math.hypot(m.eastingM - e, m.northingM - n);
  return group.reduce((best, m) => (off(m) < off(best) ? m : best));
}
