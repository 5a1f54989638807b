/**
 * SQL of whether a programme was put together from something that is gone: it can't be made again. Parts are recordings, or deliveries that
 * are still there. `item` is the alias of its row.
 */
export const LACKS_A_PART = `EXISTS (
  SELECT 1 FROM json_tree(item.recipe, '$.order.parts') part
  WHERE part.key = 'sha256'
    AND NOT EXISTS (SELECT 1 FROM recording own WHERE own.sha256 = part.atom AND own."removedAt" IS NULL)
    AND NOT EXISTS (SELECT 1 FROM run_item made WHERE made."outputSha256" = part.atom AND NOT made.cleared))`;
