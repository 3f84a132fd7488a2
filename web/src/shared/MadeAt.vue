<script setup lang="ts">
import { useSession } from '@/shared/session'
import { agoWords } from '@/shared/words'

/** When a report that is kept was worked out, and whether something was signed since. */
defineProps<{ of: { madeAt: string; current: boolean } }>()
const { zone } = useSession().current!
</script>

<template>
  <span class="soft" data-part="made">
    Worked out {{ agoWords(Date.parse(of.madeAt), zone)
    }}<template v-if="!of.current">; what was signed since follows within minutes</template>.
  </span>
</template>
