import { Tabs } from 'antd'

interface Props<K extends string> {
  /** What they are for, for who does not see them. */
  label: string
  works: readonly { key: K; label: React.ReactNode }[]
  chosen: K
  onChoose: (key: K) => void
}

/** The works of a panel: one is open at a time, by click or arrow keys. What is open is drawn by whoever asks. */
export function Works<K extends string>({ label, works, chosen, onChoose }: Props<K>) {
  return (
    <Tabs
      className="works"
      size="small"
      tabBarGutter={14}
      activeKey={chosen}
      onChange={(key) => onChoose(key as K)}
      items={works.map((w) => ({ key: w.key, label: w.label }))}
      renderTabBar={(props, Bar) => <Bar {...props} aria-label={label} />}
    />
  )
}
