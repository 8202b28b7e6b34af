import './theme/fonts'
import './theme/theme.css'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { App, ConfigProvider } from 'antd'
import { StrictMode, Suspense } from 'react'
import { createRoot } from 'react-dom/client'
import { createBrowserRouter, RouterProvider } from 'react-router-dom'
import type { CharacterOut } from './api/client'
import { DropAnywhere } from './shell/DropAnywhere'
import { Shelf } from './shell/Shelf'
import { PANELS, Stage } from './stations/panels'
import { takeOn } from './state/bench'
import { useSurroundings } from './state/surroundings'
import { antThemes } from './theme/tokens'
import { later } from './ui/later'

const Bench = later(() => import('./shell/Bench').then((m) => m.Bench))
const queries = new QueryClient({ defaultOptions: { queries: { refetchOnWindowFocus: false, retry: 1 } } })

const router = createBrowserRouter([
  {
    element: <DropAnywhere />,
    children: [
      { path: '/', element: <Shelf /> },
      { path: '/characters/:id/:station', element: <Suspense><Bench /></Suspense> },
      { path: '*', element: <Shelf /> },
    ],
  },
])

function Root() {
  const { surroundings } = useSurroundings()
  return (
    <ConfigProvider theme={antThemes[surroundings]}>
      <App style={{ height: '100%' }}>
        <QueryClientProvider client={queries}>
          <RouterProvider router={router} />
        </QueryClientProvider>
      </App>
    </ConfigProvider>
  )
}

const show = () =>
  createRoot(document.getElementById('root')!).render(
    <StrictMode>
      <Root />
    </StrictMode>,
  )

/** Shows the page; where it begins with a character, once that has come and what it is drawn by. The panel of its station comes after. */
export function begin(ahead: Promise<CharacterOut> | null, station = '') {
  if (!ahead) return show()
  const known = ahead.then((character) => {
    queries.setQueryData(['character', character.id], character)
    takeOn(character) // now: a bench that waits for it would be shown first
  })
  void Promise.allSettled([known, Bench.load(), Stage.load()]).then(show)
  void PANELS[station]?.load().catch(() => undefined) // it is said where it is wanted
}
