/** The components of Element Plus that the page uses; the others need not be sent. */
import {
  ElButton,
  ElCheckbox,
  ElDialog,
  ElForm,
  ElInput,
  ElInputNumber,
  ElOption,
  ElOptionGroup,
  ElPopconfirm,
  ElPopover,
  ElProgress,
  ElRadio,
  ElRadioButton,
  ElRadioGroup,
  ElSelect,
  ElSelectV2,
  ElSlider,
} from 'element-plus'
import type { App } from 'vue'

const COMPONENTS = [
  ElButton,
  ElCheckbox,
  ElDialog,
  ElForm,
  ElInput,
  ElInputNumber,
  ElOption,
  ElOptionGroup,
  ElPopconfirm,
  ElPopover,
  ElProgress,
  ElRadio,
  ElRadioButton,
  ElRadioGroup,
  ElSelect,
  ElSelectV2,
  ElSlider,
] as const

export const element = {
  install(app: App): void {
    for (const component of COMPONENTS) app.use(component)
  },
}
