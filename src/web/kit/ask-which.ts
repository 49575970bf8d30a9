import { h } from 'vue'
import { ElButton, ElMessageBox } from 'element-plus'

/** A question with several ways on. @returns the id of the one that was chosen; null where it was put away. */
export function askWhich<Id extends string>(
  title: string,
  text: string,
  ways: readonly { readonly id: Id; readonly title: string }[],
): Promise<Id | null> {
  return new Promise((resolve) => {
    const take = (id: Id): void => {
      resolve(id)
      ElMessageBox.close()
    }
    ElMessageBox({
      title,
      message: h('div', { class: 'ways-on' }, [
        h('p', text),
        ...ways.map(({ id, title: words }, at) =>
          h(ElButton, { type: at === 0 ? 'primary' : 'default', onClick: () => take(id) }, () => words),
        ),
      ]),
      showConfirmButton: false,
      showCancelButton: false,
      closeOnClickModal: false,
    }).then(
      () => resolve(null),
      () => resolve(null),
    )
  })
}
