<script setup lang="ts">
import { computed, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { Pack } from '@/schema/schemas'
import { rules } from '@/rules/rules'
import SearchSelect from '@/shared/SearchSelect.vue'
import { reasonShape } from '@/shared/words'

/** Two editions of a pack side by side; what an earlier element became is said here. */
const props = defineProps<{ pack: Pack; older: Pack; readonly: boolean }>()
const emit = defineEmits<{ change: [what: string, pack: Pack] }>()
const only = ref(false)
const pairs = computed(() => rules.beside(props.older, props.pack))
const differing = computed(() => pairs.value.filter((p) => p.how !== 'same'))
const shown = computed(() => (only.value ? differing.value : pairs.value))
const gone = computed(() => pairs.value.filter((p) => p.how === 'gone').length)
const named = (p: Pack) => [p.title, p.edition, `version ${p.version}`].filter(Boolean).join(', ')
const all = computed(() =>
  props.pack.tasks.flatMap((t) => t.elements.map((e) => [e.id, `${e.code ?? ''} ${e.text}`.trim()] as const)),
)
const how = { same: 'the same', changed: 'changed', became: 'became', gone: 'gone', new: 'new' }
const shape = { same: '=', changed: reasonShape.changed, became: '→', gone: reasonShape.removed, new: '+' }
const fieldWords = { code: 'code', kind: 'kind', text: 'words', classes: 'classes' }
const replaces = computed(() => props.pack.replaces ?? [])
const others = (from: string) => replaces.value.filter((r) => r.from !== from)
const set = (what: string, list: Pack['replaces']) => emit('change', what, { ...props.pack, replaces: list })
const became = (from: string, to: string) =>
  to && set(`became ${from}`, [...others(from), { from, to, why: '' }])
const because = (from: string, why: string) =>
  set(
    `why ${from}`,
    replaces.value.map((r) => (r.from === from ? { ...r, why } : r)),
  )
</script>

<template>
  <section aria-label="Two editions side by side">
    <p class="sum">
      <b :class="gone ? 'attend' : 'within'" data-part="gone">{{
        gone
          ? `▲ standing lost: of ${gone} of the other edition's elements`
          : '● the standing of every element goes on'
      }}</b>
      <span class="soft">{{ differing.length }} of {{ pairs.length }} lines differ</span>
      <AppButton class="quiet" :aria-pressed="only" data-action="only-differing" @click="only = !only">
        {{ only ? 'show all' : 'only what differs' }}
      </AppButton>
    </p>
    <div class="row head">
      <b>{{ named(older) }}</b>
      <span />
      <b>{{ named(pack) }}</b>
    </div>
    <template v-for="(p, i) in shown" :key="`${p.before?.id} ${p.after?.id}`">
      <h3 class="ruled" v-if="p.task !== shown[i - 1]?.task">{{ p.task }}</h3>
      <div class="row" :data-pair="p.before?.id ?? p.after?.id" :data-how="p.how">
        <p v-if="p.before" :class="{ soft: p.how === 'same' }">
          <span class="figure small">{{ p.before.code }}</span> {{ p.before.text }}
          <small class="soft">{{ p.before.kind }}</small>
        </p>
        <p v-else class="soft">—</p>
        <p class="how" :title="p.says">
          <b>{{ shape[p.how] }} {{ how[p.how] }}</b>
          <small v-if="p.fields" class="soft">{{ p.fields.map((f) => fieldWords[f]).join(', ') }}</small>
        </p>
        <div>
          <p v-if="p.after">
            <span class="figure small">{{ p.after.code }}</span> {{ p.after.text }}
            <small class="soft">{{ p.after.kind }}</small>
          </p>
          <p v-if="p.how === 'became'" class="why">
            <span class="soft">because</span>
            <template v-if="readonly">{{ p.why }}</template>
            <template v-else>
              <AppInput
                type="text"
                :aria-label="`why the standing of ${p.before!.text} carries over`"
                :value="p.why"
                maxlength="300"
                @change="because(p.before!.id, ($event.target as HTMLInputElement).value.trim())"
              />
              <AppButton
                class="quiet"
                :aria-label="`${p.before!.text}: became nothing`"
                @click="set(`undone ${p.before!.id}`, others(p.before!.id))"
              >
                ×
              </AppButton>
            </template>
          </p>
          <SearchSelect
            v-if="p.how === 'gone' && !readonly"
            model-value=""
            :name="`became-${p.before!.id}`"
            :label="`what became of: ${p.before!.text}`"
            :options="all"
            none="it became …"
            @update:model-value="became(p.before!.id, String($event))"
          />
          <small v-if="p.how !== 'same'" :class="p.how === 'gone' ? 'attend' : 'soft'">{{ p.says }}</small>
        </div>
      </div>
    </template>
  </section>
</template>

<style scoped>
.sum {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  align-items: baseline;
  margin: 8px 0;
}

.sum button {
  text-decoration: underline;
}

h3 {
  margin-top: 12px;
}

.row {
  display: grid;
  grid-template-columns: minmax(0, 5fr) 110px minmax(0, 6fr);
  gap: 12px;
  padding: 5px 0;
  border-bottom: 1px solid var(--fine);
  line-height: 1.3;
}

.head {
  border-bottom: 0;
}

.how small,
.row div > small {
  display: block;
}

.row > div {
  display: grid;
  gap: 6px;
}

.why {
  display: flex;
  gap: 8px;
  align-items: center;
}

@media (max-width: 700px) {
  .row {
    grid-template-columns: minmax(0, 1fr);
    gap: 2px;
  }

  .how {
    padding-left: 18px;
  }
}
</style>
