<script setup lang="ts"></script>
<template><div /></template>
