/** The work of many, some at a time and in their order; others are answered in between. @param most of them in one go */
export async function inSlices<One, Made>(
  all: readonly One[],
  most: number,
  work: (some: readonly One[]) => Made[] | Promise<Made[]>,
): Promise<Made[]> {
  const made: Made[] = [];
  for (let at = 0; at < all.length; at += most) {
    if (at) await new Promise(setImmediate);
    for (const one of await work(all.slice(at, at + most))) made.push(one);
  }
  return made;
}
