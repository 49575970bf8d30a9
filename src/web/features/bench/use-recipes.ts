import { saveText } from '../../kit/save-text.ts'
import { onMounted, ref } from 'vue'
import type { SavedRecipe } from '../../../contract/recipes.ts'
import type { Recipe } from '../../../core/steps/recipe.ts'
import { api, isConflict } from '../../api.ts'
import { useNotices } from '../../stores/notices.ts'

/** The saved recipes, and what can be done with them. */
export function useRecipes() {
  const notices = useNotices()
  const recipes = ref<SavedRecipe[]>([])
  const refresh = async (): Promise<void> => {
    recipes.value = (await api.recipes()).recipes
  }
  onMounted(() => void refresh().catch(notices.failed))
  async function change(work: () => Promise<unknown>, words: string): Promise<void> {
    try {
      await work()
      await refresh()
      notices.done(words)
    } catch (error) {
      notices.failed(error)
      if (isConflict(error)) await refresh().catch(notices.failed)
    }
  }
  return {
    recipes,
    save: (recipe: Recipe) => change(() => api.addRecipe(recipe), `The recipe “${recipe.name}” is saved.`),
    drop: (recipe: SavedRecipe) =>
      change(() => api.removeRecipe(recipe.id, recipe.updatedAt), `The recipe “${recipe.name}” is deleted.`),
    rename: (recipe: SavedRecipe, name: string) =>
      change(
        () => api.changeRecipe(recipe.id, { name, steps: recipe.steps }, recipe.updatedAt),
        `It is called “${name}” now.`,
      ),
    /** The recipe as a file, for the command line. */
    download(recipe: SavedRecipe): void {
      const text = JSON.stringify({ name: recipe.name, steps: recipe.steps }, null, 2)
      saveText(`${recipe.name.replace(/[^\p{L}\p{N}._-]+/gu, '_')}.json`, text, 'application/json')
    },
  }
}
