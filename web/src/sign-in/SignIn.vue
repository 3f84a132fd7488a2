<script setup lang="ts">
import 'element-plus/es/components/form/style/css'
import 'element-plus/es/components/form-item/style/css'
import 'element-plus/es/components/input/style/css'

import { ElForm, ElFormItem, ElInput, type FormInstance, type FormRules } from 'element-plus'
import { onMounted, reactive, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import { home, useSession } from '@/shared/session'
import { inWords } from '@/shared/errors'
import { useCode } from '@/sign-in/code'
import { switchTheme, theme } from '@/theme/theme'

const session = useSession()
const router = useRouter()
const route = useRoute()
const form = ref<FormInstance>()
const typed = reactive({ email: '', password: '' })
const rules: FormRules<typeof typed> = {
  email: {
    type: 'email',
    required: true,
    message: 'The address is not one: it needs an @, such as name@school.example.',
  },
  password: { required: true, message: 'The password is empty.' },
}
const problem = ref('')
const busy = ref(false)
const { code, asked, asking } = useCode()

/** Where there is no school yet, one is begun. */
onMounted(async () => {
  const setup = await take(api.GET('/api/v1/setup')).catch(() => undefined)
  if (setup?.needed) await router.replace('/setup')
})

async function signIn() {
  problem.value = ''
  if (!(await form.value!.validate(() => {}))) return
  busy.value = true
  try {
    await asking(() => session.signIn(typed.email, typed.password, code.value || undefined))
    const to = route.query.to
    await router.push(typeof to === 'string' && to.startsWith('/') ? to : home(session.current!))
  } catch (e) {
    problem.value = inWords(e)
  } finally {
    busy.value = false
  }
}

const ticks = Array.from({ length: 44 }, (_, i) => i)
const deviations: Record<number, string> = { 9: 'ring', 24: 'cross', 33: 'triangle' }
</script>

<template>
  <main class="page">
    <svg viewBox="0 0 460 44" class="tape" aria-hidden="true">
      <line x1="0" x2="460" y1="42" y2="42" class="rule" />
      <g v-for="i in ticks" :key="i" :transform="`translate(${8 + i * 10.3} 0)`">
        <line
          y1="30"
          y2="42"
          :class="['tick', deviations[i] ? 'off' : '', deviations[i] === 'cross' ? 'bad' : '']"
        />
        <line v-if="deviations[i]" y1="16" y2="30" :class="['off', deviations[i] === 'cross' ? 'bad' : '']" />
        <circle v-if="deviations[i] === 'ring'" cy="11" r="4.5" class="off" />
        <path v-if="deviations[i] === 'cross'" d="M-4 6 L4 14 M4 6 L-4 14" class="wrong" />
        <path v-if="deviations[i] === 'triangle'" d="M-5 15 L5 15 L0 6 Z" class="off" />
      </g>
    </svg>
    <h1>Jet Primer</h1>
    <p class="lead">Start, run-up and before-take-off checks: taught, measured, graded, kept.</p>
    <ElForm
      ref="form"
      :model="typed"
      :rules="rules"
      label-position="top"
      hide-required-asterisk
      novalidate
      class="form"
      @submit.prevent="signIn"
    >
      <ElFormItem label="Address" prop="email">
        <ElInput
          id="email"
          v-model="typed.email"
          type="email"
          autocomplete="username"
          :validate-event="false"
          autofocus
        />
      </ElFormItem>
      <ElFormItem label="Password" prop="password">
        <ElInput
          id="password"
          v-model="typed.password"
          type="password"
          autocomplete="current-password"
          :validate-event="false"
          show-password
        />
      </ElFormItem>
      <ElFormItem v-if="asked" label="The code that your authenticator shows">
        <ElInput
          v-model="code"
          name="sign-in-code"
          inputmode="numeric"
          autocomplete="one-time-code"
          maxlength="12"
          :validate-event="false"
          autofocus
        />
      </ElFormItem>
      <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
      <AppButton class="primary" type="submit" :disabled="busy">{{
        busy ? 'Signing in' : 'Sign in'
      }}</AppButton>
    </ElForm>
    <p class="caution">
      A training record and a teaching aid, not an approved checklist. The aircraft’s approved handbook and
      the operator’s rules govern; a licensed instructor or mechanic decides.
    </p>
    <p class="small others">
      <router-link to="/verify" class="soft">Verify a record that was exported</router-link>
      <router-link to="/help/sign-in" class="soft" data-action="help">Help</router-link>
    </p>
    <AppButton class="quiet theme" @click="switchTheme">{{ theme === 'day' ? 'Dark' : 'Bright' }}</AppButton>
  </main>
</template>

<style scoped>
.page {
  max-width: 508px;
  min-height: 100%;
  margin: 0 auto;
  padding: 9vh 24px 24px;
}

.tape {
  width: 100%;
  display: block;
}

.rule {
  stroke: var(--ink);
  stroke-width: 1.4;
}

.tick {
  stroke: var(--within);
  stroke-width: 2.2;
}

.off {
  stroke: var(--attend);
  stroke-width: 2;
  fill: none;
}

.bad {
  stroke: var(--out);
  stroke-width: 2.2;
  fill: none;
}

h1 {
  font-size: 30px;
  font-weight: 700;
  margin-top: 26px;
}

.lead {
  font-size: 18px;
  color: var(--soft);
}

.form {
  display: grid;
  gap: 6px;
  margin: 30px 0;
}

.form :deep(.el-input__wrapper) {
  min-height: 56px;
  font-size: 18px;
}

.form .primary {
  min-height: 72px;
  font-size: 22px;
  margin-top: 8px;
}

.caution {
  font-size: 13px;
  color: var(--soft);
  border-top: 1px solid var(--hair);
  padding-top: 12px;
}

.others {
  display: flex;
  gap: 24px;
}

.theme {
  margin-left: -8px;
  color: var(--soft);
}
</style>
