import { useLesson } from '@/lesson/lesson'

/** What the items of the lesson that is shown are called. */
export function useItemName() {
  const lesson = useLesson()
  return (item?: string) => lesson.places.find((p) => p.item.id === item)?.item.challenge ?? ''
}
