import { ElMessageBox } from 'element-plus'

/** What a measured length is in truth, in centimetres; null where it was left. */
export async function askLength(): Promise<number | null> {
  try {
    const { value } = await ElMessageBox.prompt(
      'What is this length in truth, in centimetres? The whole model is scaled by it.',
      'Known size',
      {
        confirmButtonText: 'Scale the model',
        cancelButtonText: 'Leave it',
        inputValidator: (text) => (Number(text.replace(',', '.')) > 0 ? true : 'A number above zero.'),
      },
    )
    return Number(value.replace(',', '.'))
  } catch {
    // closed without an answer
    return null
  }
}
