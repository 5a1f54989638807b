/** What is open for a session or a token, to be shut when that ends. */
export class Endings {
  private readonly open = new Map<string, Set<() => void>>();

  /** @param shut called when the credential ends @returns what takes it back */
  watch(credentialId: string, shut: () => void): () => void {
    const shuts = this.open.get(credentialId) ?? new Set();
    this.open.set(credentialId, shuts.add(shut));
    return () => {
      shuts.delete(shut);
      if (!shuts.size) this.open.delete(credentialId);
    };
  }

  end(credentialId: string): void {
    for (const shut of [...(this.open.get(credentialId) ?? [])]) shut();
    this.open.delete(credentialId);
  }
}
