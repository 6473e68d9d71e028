<script setup lang="ts">
import { RouterView } from 'vue-router';
import CommandFinder from './components/CommandFinder.vue';
import NoticeList from './components/NoticeList.vue';
</script>

<template>
  <RouterView />
  <CommandFinder />
  <NoticeList />
</template>
