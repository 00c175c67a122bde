/** Asking while something moves: the latest question wins, and none queue up. */
export function useLatest<Q, A>(ask: (question: Q) => Promise<A>, take: (answer: A) => void) {
  let next: { question: Q } | null = null
  let running: Promise<void> | null = null

  async function run(): Promise<void> {
    while (next) {
      const now: { question: Q } = next
      next = null
      take(await ask(now.question))
    }
  }
  /** Ask, or have it asked after what is on its way; resolved when nothing is left to ask. */
  function latest(question: Q): Promise<void> {
    next = { question }
    running ??= run().finally(() => {
      running = null
    })
    return running
  }
  return { latest }
}
