/** Every class of a style sheet is called as it is written. */
export default new Proxy({}, { get: (_, name) => String(name) });
