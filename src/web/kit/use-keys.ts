import { onBeforeUnmount, onMounted } from 'vue'

const isWriting = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (/^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName) || target.isContentEditable)

/** A dialog has its own keys: Escape closes it and does nothing to what lies below. */
const isInDialog = (target: EventTarget | null): boolean =>
  target instanceof Element && target.closest('[role=dialog]') !== null

const handlers = new Map<string, (() => void)[]>()

/** The one place that listens to keys; whoever came last is asked. Keys that are typed into a field are the field's. */
function onKeyDown(event: KeyboardEvent): void {
  if (isWriting(event.target) || isInDialog(event.target) || event.altKey) return
  const name = event.ctrlKey || event.metaKey ? `Ctrl+${event.key.toLowerCase()}` : event.key
  const handler = handlers.get(name)?.at(-1)
  if (!handler) return
  if (name.startsWith('Ctrl+')) event.preventDefault()
  handler()
}

/** What a key does for as long as the component lives, such as `v`, `?`, `Escape` or `Ctrl+z`. */
export function onKeyStroke(key: string, handler: () => void): void {
  onMounted(() => {
    if (handlers.size === 0) addEventListener('keydown', onKeyDown)
    handlers.set(key, [...(handlers.get(key) ?? []), handler])
  })
  onBeforeUnmount(() => {
    const left = (handlers.get(key) ?? []).filter((held) => held !== handler)
    if (left.length) handlers.set(key, left)
    else handlers.delete(key)
    if (handlers.size === 0) removeEventListener('keydown', onKeyDown)
  })
}

/** Says when a key goes down and when it is let go, for as long as the component lives; letting the window go lets it go. */
export function onKeyHeld(key: string, tell: (held: boolean) => void): void {
  const down = (event: KeyboardEvent): void => {
    if (event.key !== key || event.repeat || event.ctrlKey || event.metaKey || event.altKey) return
    if (!isWriting(event.target) && !isInDialog(event.target)) tell(true)
  }
  const up = (event: KeyboardEvent): void => {
    if (event.key === key) tell(false)
  }
  const away = (): void => tell(false)
  onMounted(() => {
    addEventListener('keydown', down)
    addEventListener('keyup', up)
    addEventListener('blur', away)
  })
  onBeforeUnmount(() => {
    removeEventListener('keydown', down)
    removeEventListener('keyup', up)
    removeEventListener('blur', away)
  })
}
