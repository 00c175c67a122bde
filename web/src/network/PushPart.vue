<script setup lang="ts">
/** What is sent, step by step: what would be, what is under way, where it stopped and why, and the way back. */
import { computed } from 'vue'
import { useController } from '@/network/useController'

const controller = useController()
const plan = computed(() => controller.live?.steps)
const push = computed(() => controller.push)
const MARKS = {
  waiting: ['·', 'quiet', ''],
  'under way': ['▸', 'tarn', 'under way'],
  done: ['✓', 'holds', 'done'],
  refused: ['▲', 'fault', 'refused'],
  'in doubt': ['◆', 'advice', 'in doubt'],
} as const
const open = computed(() => push.value?.state === 'ready' || push.value?.state === 'stopped')
const at = computed(() => push.value?.steps.find((one) => one.state !== 'done'))
const costly = computed(() => plan.value?.steps.filter((step) => step.costs).length ?? 0)
</script>

<template>
  <div class="push">
    <p class="line">
      <template v-if="push && (controller.sending || open)">
        <progress
          :value="push.done"
          :max="push.steps.length"
          :aria-label="`Sent ${push.done} of ${push.steps.length}`"
        />
        <span class="mono">{{ push.done }} / {{ push.steps.length }}</span>
        <template v-if="controller.sending">
          <span>{{ at?.step.words }}</span><span class="quiet">{{ at?.words }}</span>
          <button type="button" class="ink-button" @click="controller.stop()">Stop</button>
        </template>
        <template v-else>
          <span v-if="at?.words" class="fault">▲ {{ at.step.words }}: {{ at.words }}.</span>
          <span>{{ push.said }}</span>
          <button type="button" class="ink-button" :disabled="controller.busy" @click="controller.resume()">
            Go on
          </button>
          <button type="button" class="ink-button" :disabled="controller.busy" @click="controller.begin()">
            Plan anew
          </button>
        </template>
      </template>
      <template v-else>
        <span v-if="push" :class="{ holds: push.state === 'done' && !plan?.steps.length }"
          ><template v-if="push.state === 'done' && !plan?.steps.length">✓ </template>{{ push.said }}</span
        >
        <template v-if="plan?.steps.length">
          <button type="button" class="ink-button primary" :disabled="controller.busy" @click="controller.begin()">
            Send {{ plan.steps.length }} steps
          </button>
          <span class="quiet">a backup first; people feel {{ costly }} of them</span>
        </template>
      </template>
      <button
        v-if="push?.can_go_back && !controller.sending"
        type="button"
        class="ink-button"
        :disabled="controller.busy"
        @click="controller.goBack()"
      >
        Put back what was before
      </button>
    </p>
    <p v-for="words in plan?.blocked ?? []" :key="words" class="advice blocked">◆ {{ words }}</p>
    <details
      v-if="(push && (controller.sending || open)) || plan?.steps.length"
      :open="controller.sending || push?.state === 'stopped'"
    >
      <summary>{{ controller.sending || open ? 'Steps' : 'What would be sent, in order' }}</summary>
      <ol>
        <template v-if="push && (controller.sending || open)">
          <li v-for="(one, n) in push.steps" :key="n" :class="MARKS[one.state][1]">
            <span aria-hidden="true">{{ MARKS[one.state][0] }}</span> {{ one.step.words }}
            <span class="quiet">{{ [MARKS[one.state][2], one.words].filter(Boolean).join(': ') }}</span>
          </li>
        </template>
        <template v-else>
          <li v-for="(step, n) in plan?.steps ?? []" :key="n">
            {{ step.words }} <span v-if="step.costs" class="advice">◇ {{ step.costs }}</span>
          </li>
        </template>
      </ol>
    </details>
  </div>
</template>

<style scoped>
.push {
  padding: 0 12px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: center;
  margin: 4px 0;
}
progress {
  width: 180px;
  height: 12px;
  accent-color: var(--heather);
}
.blocked {
  margin: 2px 0;
  font-size: 0.9rem;
}
ol {
  columns: 2 360px;
  column-gap: 28px;
  margin: 4px 0 8px;
  padding-left: 30px;
  font-size: 0.88rem;
  line-height: 1.4;
}
.tarn {
  color: var(--tarn);
}
summary {
  cursor: pointer;
  min-height: 24px;
}
</style>
