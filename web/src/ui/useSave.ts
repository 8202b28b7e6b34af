import { App } from 'antd'
import { saveFile } from '../api/client'

/** Saves what an address gives; why it cannot be is said. */
export function useSave() {
  const { message } = App.useApp()
  return (address: string) => void saveFile(address).catch((error: Error) => void message.error(error.message, 8))
}
