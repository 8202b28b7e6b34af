import { Slider, type SliderSingleProps } from 'antd'

interface Props extends SliderSingleProps {
  /** Where it stands when nothing is asked for. */
  rest: number
}

/** A slider that fills from its rest to where it is: to the left of it, it does the other thing. */
export function RestedSlider({ rest, ...props }: Props) {
  const { min = 0, max = 1 } = props
  const fromRest = { startPoint: rest } // Ant's own sliders hand it on, and do not say so
  return <Slider {...props} {...fromRest} tooltip={{ open: false }} marks={rest > min && rest < max ? { [rest]: { label: null } } : undefined} />
}
