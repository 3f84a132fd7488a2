// The words that screens share.

const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']

/** 2026-11-24 as 24 Nov 2026, without the year when it is this one. */
export function dayWords(day: string): string {
  const [y, m, d] = day.split('-')
  if (!y || !m || !d) return day
  const year = y === String(new Date().getFullYear()) ? '' : ` ${y}`
  return `${d} ${months[Number(m) - 1]}${year}`
}

/** 1:02:03 from milliseconds. */
export function clockWords(ms: number): string {
  const s = Math.max(0, Math.floor(ms / 1000))
  const two = (n: number) => String(n).padStart(2, '0')
  return `${two(Math.floor(s / 3600))}:${two(Math.floor(s / 60) % 60)}:${two(s % 60)}`
}

export const outcomeWords = {
  normal: 'Within limits',
  caution: 'Look again',
  invalid: 'Cannot be judged',
  abnormal: 'Out of limits',
} as const

/** What an oral answer was, by its level. */
export const oralWords = { 4: 'knew it', 3: 'small slip', 2: 'after a word', 1: 'did not know' } as const

export const nextWords = { continue: 'go on', recheck: 'test again', stop: 'stop here' } as const

export const decisionWords: Record<string, string> = {
  'normal-for-type': 'normal for type',
  cleared: 'cleared and tested again',
  'carried-on': 'carried on, recorded',
  deferred: 'deferred',
  grounded: 'grounded',
}

export const markWords: Record<string, string> = {
  done: 'done',
  prompted: 'prompted',
  helped: 'helped',
  wrong: 'wrong',
  'self-fixed': 'self-fixed',
  'left-out': 'left out',
  unsafe: 'unsafe',
  'not-fitted': 'not fitted',
}

export const methodWords: Record<string, string> = {
  'read-and-do': 'read and do',
  'flow-then-verify': 'flow, then verify',
  'challenge-and-response': 'challenge and response',
}

export const classWords: Record<string, string> = {
  'airplane-single-engine-land': 'airplane, single engine',
  'airplane-multi-engine-land': 'airplane, multi-engine',
  helicopter: 'helicopter',
}

export const kindWords: Record<string, string> = {
  type: 'aircraft type',
  list: 'checklist',
  layer: 'layer',
  aid: 'memory aid',
}

export const statusWords: Record<string, string> = {
  draft: 'draft',
  reviewed: 'reviewed',
  'in-force': 'in force',
  withdrawn: 'withdrawn',
}

export const rankWords: Record<string, string> = {
  instructor: 'an instructor’s technique',
  school: 'school supplement',
  handbook: 'handbook supplement',
  bulletin: 'service bulletin',
}

export const purposeWords: Record<string, string> = { training: 'training', 'stage-check': 'stage check' }

export const severityWords: Record<string, string> = {
  slip: 'slip without effect',
  wrong: 'wrong result',
  unsafe: 'unsafe',
}

/** How a mark is coloured: the only three colours with a meaning. */
export function markTone(mark: string): 'within' | 'attend' | 'out' | 'soft' {
  if (mark === 'done' || mark === 'self-fixed') return 'within'
  if (mark === 'prompted' || mark === 'helped') return 'attend'
  if (mark === 'wrong' || mark === 'left-out' || mark === 'unsafe') return 'out'
  return 'soft'
}
