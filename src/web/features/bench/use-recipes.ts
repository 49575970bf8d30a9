import { saveText } from '../../kit/save-text.ts'
import type { SavedRecipe } from '../../../contract/recipes.ts'
import type { Recipe } from '../../../core/steps/recipe.ts'
import { api } from '../../api.ts'
import { useKept } from '../../kit/use-kept.ts'

/** The saved recipes, and what can be done with them. */
export function useRecipes() {
  const { kept: recipes, change } = useKept(async () => (await api.recipes()).recipes)
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
