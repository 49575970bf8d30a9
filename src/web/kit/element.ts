/** The components of Element Plus that the page uses; the others need not be sent. */
import {
  ElButton,
  ElCheckbox,
  ElDialog,
  ElDropdown,
  ElDropdownItem,
  ElDropdownMenu,
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
  ElTable,
  ElTableColumn,
} from 'element-plus'
import type { App } from 'vue'

const COMPONENTS = [
  ElButton,
  ElCheckbox,
  ElDialog,
  ElDropdown,
  ElDropdownItem,
  ElDropdownMenu,
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
  ElTable,
  ElTableColumn,
] as const

export const element = {
  install(app: App): void {
    for (const component of COMPONENTS) app.use(component)
  },
}
