const Base = globalThis.Request
globalThis.Request = class extends Base {
  constructor(input: RequestInfo | URL, init?: RequestInit) {
    super(typeof input === 'string' ? new URL(input, location.href) : input, { ...init, signal: undefined })
  }
}
