// Pictures of findings: shrunk, turned upright and without what a camera writes
// into them, all on this device, where they wait until the school holds them.
import { kept } from './kept'

/** A picture of at most so many bytes and pixels a side leaves the device. */
const bytesMost = 1 << 20
const sideMost = 1600
const qualities = [0.82, 0.7, 0.55, 0.4]

/** A picture's SHA-256 needs a secure place: loopback, or TLS. */
export const picturesWork = () => typeof crypto !== 'undefined' && crypto.subtle !== undefined

async function hashOf(data: ArrayBuffer): Promise<string> {
  const sum = new Uint8Array(await crypto.subtle.digest('SHA-256', data))
  return Array.from(sum, (b) => b.toString(16).padStart(2, '0')).join('')
}

/** Draws a file anew as a small JPEG, which drops all but the picture. */
async function drawn(file: Blob): Promise<ArrayBuffer> {
  let image: ImageBitmap
  try {
    image = await createImageBitmap(file, { imageOrientation: 'from-image' })
  } catch {
    throw new Error('This file is no picture that the browser can read. Nothing was taken.')
  }
  const by = Math.min(1, sideMost / Math.max(image.width, image.height))
  const canvas = document.createElement('canvas')
  canvas.width = Math.max(1, Math.round(image.width * by))
  canvas.height = Math.max(1, Math.round(image.height * by))
  canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height)
  image.close()
  for (const quality of qualities) {
    const blob = await new Promise<Blob | null>((take) => canvas.toBlob(take, 'image/jpeg', quality))
    if (blob && blob.size <= bytesMost) return blob.arrayBuffer()
  }
  throw new Error('This picture cannot be made small enough. Nothing was taken.')
}

/** Takes a picture for a lesson; its hash is what the finding names it by. */
export async function takePicture(owner: string, lesson: string, file: Blob): Promise<string> {
  const data = await drawn(file)
  const hash = await hashOf(data)
  await kept.pictures.put({ owner, hash, lesson, data, state: 'loose', at: Date.now() })
  return hash
}

/** The pictures of a finding that was written go to the school. */
export async function sendPictures(owner: string, hashes: string[]) {
  for (const hash of hashes) await kept.pictures.update([owner, hash], { state: 'waiting' })
}

/** Where a picture is shown from: this device, else the school. */
export async function pictureURL(owner: string, lesson: string, hash: string): Promise<string> {
  const found = await kept.pictures.get([owner, hash]).catch(() => undefined)
  if (found) return URL.createObjectURL(new Blob([found.data], { type: 'image/jpeg' }))
  return `/api/v1/lessons/${lesson}/pictures/${hash}`
}
