export type Quality = 'fine' | 'plain'

const KEY = 'tight-seam.stage'

let found: Quality | null = null

/**
 * How richly the stage is drawn. Without a graphics processor the browser draws in software, some hundred times slower: there,
 * smooth edges, sheen, fine shadows and half the pixels give way, and the true mesh is what is shown first, so that the head still follows the hand.
 * "fine" or "plain" kept under tight-seam.stage in the browser's storage overrides the guess.
 */
export function stageQuality(): Quality {
  found ??= looked()
  return found
}

function looked(): Quality {
  const chosen = window.localStorage.getItem(KEY)
  if (chosen === 'fine' || chosen === 'plain') return chosen
  const probe = document.createElement('canvas').getContext('webgl2')
  const info = probe?.getExtension('WEBGL_debug_renderer_info')
  const renderer = info ? String(probe?.getParameter(info.UNMASKED_RENDERER_WEBGL)) : ''
  probe?.getExtension('WEBGL_lose_context')?.loseContext()
  return /swiftshader|llvmpipe|software/i.test(renderer) ? 'plain' : 'fine'
}
