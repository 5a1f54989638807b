import { AxeBuilder } from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';

/** No finding of axe, of any level, on the page as it stands. */
export async function expectAccessible(page: Page): Promise<void> {
  expect(await findingsOf(page)).toEqual([]);
}

/** @param rules only these, where the rest was seen already */
export async function findingsOf(page: Page, rules: string[] = []): Promise<string[]> {
  const axe = new AxeBuilder({ page });
  const { violations } = await (rules.length ? axe.withRules(rules) : axe).analyze();
  return violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html).join(' ')}`);
}
