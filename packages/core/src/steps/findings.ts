/** Findings are plain JSON data: what a step learned from a recording. They are stored with the render and shown. */
export type Findings = Readonly<Record<string, unknown>>;
