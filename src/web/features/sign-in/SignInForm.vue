<script setup lang="ts">
import { onMounted, ref } from 'vue'
import type { InputInstance } from 'element-plus'
import { ApiError } from '../../api.ts'
import BrandMark from '../../kit/BrandMark.vue'
import { useSession } from '../../stores/session.ts'

/** @param again somebody was signed in, and works. */
defineProps<{ again?: boolean }>()

const session = useSession()
const name = ref('')
const password = ref('')
const busy = ref(false)
const complaint = ref<{ message: string; advice: string } | null>(null)
const first = ref<InputInstance>()
onMounted(() => first.value?.focus())

async function signIn(): Promise<void> {
  busy.value = true
  complaint.value = null
  try {
    await session.signIn(name.value.trim(), password.value)
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    complaint.value = error.document
    password.value = ''
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <form class="sign-in" @submit.prevent="signIn">
    <p class="brand">
      <BrandMark :width="38" />
      Kelbo
    </p>
    <p class="soft">
      {{
        again
          ? 'You are not signed in any more. What you were doing is still here, behind this.'
          : 'The desk between your tools. Sign in to go on.'
      }}
    </p>
    <label>
      Name
      <el-input ref="first" v-model="name" name="name" autocomplete="username" maxlength="60" />
    </label>
    <label>
      Password
      <el-input
        v-model="password"
        name="password"
        type="password"
        autocomplete="current-password"
        maxlength="200"
      />
    </label>
    <p v-if="complaint" class="complaint" role="alert">
      <b>{{ complaint.message }}</b> {{ complaint.advice }}
    </p>
    <el-button type="primary" native-type="submit" :loading="busy" :disabled="!name.trim() || !password"
      >Sign in</el-button
    >
  </form>
</template>

<style scoped>
.sign-in {
  width: 340px;
  display: grid;
  gap: 14px;
}
.brand {
  display: flex;
  align-items: center;
  gap: 12px;
  font-weight: 650;
  font-size: 24px;
  letter-spacing: -0.02em;
  margin: 0;
}
p {
  margin: 0;
}
label {
  display: grid;
  gap: 4px;
}
.complaint {
  border-left: 3px solid var(--lost);
  padding-left: 10px;
}
</style>
