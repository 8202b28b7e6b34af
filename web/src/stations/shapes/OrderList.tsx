import type { ShapesOut } from '../../api/client'
import type { useEdit } from '../../state/edits'
import { partLabel } from '../../ui/names'

interface Props {
  orders: ShapesOut['orders']
  edit: ReturnType<typeof useEdit>
}

/** What comes first on each part that shapes move: a click exchanges the two. */
export function OrderList({ orders, edit }: Props) {
  if (!orders.length) return null
  return (
    <section aria-label="Order of deformation">
      <h3>Order of deformation</h3>
      <ul className="orders">
        {orders.map(({ part, first }) => {
          const then = first === 'shapes' ? 'bones' : 'shapes'
          return (
            <li key={part} className={first === 'bones' ? 'attention' : ''}>
              <span>{partLabel(part)}</span>
              <button className="chip" disabled={edit.isPending} title={`Let ${then} come first`} aria-label={`${partLabel(part)}: ${first}, then ${then}`} onClick={() => edit.mutate({ edit: 'binding.set_order', params: { part, first: then } })}>
                {first} → {then}
              </button>
            </li>
          )
        })}
      </ul>
    </section>
  )
}
