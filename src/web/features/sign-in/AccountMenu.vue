<script setup lang="ts">
import { ref } from 'vue'
import { api, ApiError } from '../../api.ts'
import { useNotices } from '../../stores/notices.ts'
import { useSession } from '../../stores/session.ts'

/** Who is signed in, and what they may do with it. */
const session = useSession()
const notices = useNotices()
const open = ref(false)
const present = ref('')
const next = ref('')
const complaint = ref<{ message: string; advice: string } | null>(null)

function choose(what: string): void {
  if (what === 'out') session.signOut().catch(notices.failed)
  else {
    present.value = ''
    next.value = ''
    complaint.value = null
    open.value = true
  }
}
async function change(): Promise<void> {
  try {
    await api.changePassword(present.value, next.value)
    open.value = false
    notices.done('Your password is changed. Other browsers of yours are signed out.')
  } catch (error) {
    if (!(error instanceof ApiError)) throw error
    complaint.value = error.document
  }
}
</script>

<template>
  <el-dropdown trigger="click" @command="choose">
    <el-button text size="small" class="who">{{ session.name }}</el-button>
    <template #dropdown>
      <el-dropdown-menu>
        <el-dropdown-item command="password">Change password …</el-dropdown-item>
        <el-dropdown-item command="out">Sign out</el-dropdown-item>
      </el-dropdown-menu>
    </template>
  </el-dropdown>
  <el-dialog v-model="open" title="Change password" width="420" align-center>
    <form class="change" @submit.prevent="change">
      <label>
        Present password
        <el-input v-model="present" type="password" autocomplete="current-password" maxlength="200" />
      </label>
      <label>
        New password
        <el-input v-model="next" type="password" autocomplete="new-password" maxlength="200" show-password />
      </label>
      <p class="soft">15 letters or more; a few words are easy to keep in mind.</p>
      <p v-if="complaint" class="complaint" role="alert">
        <b>{{ complaint.message }}</b> {{ complaint.advice }}
      </p>
      <el-button type="primary" native-type="submit" :disabled="!present || !next">Change it</el-button>
    </form>
  </el-dialog>
</template>

<style scoped>
.who {
  padding: 4px 6px;
}
.change {
  display: grid;
  gap: 12px;
}
label {
  display: grid;
  gap: 4px;
}
p {
  margin: 0;
}
.complaint {
  border-left: 3px solid var(--lost);
  padding-left: 10px;
}
</style>
