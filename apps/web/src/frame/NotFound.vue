<template>
  <main class="centre">
    <h1>There is nothing at this address</h1>
    <p class="soft">The project or page may have another number.</p>
    <RouterLink to="/">To the projects</RouterLink>
  </main>
</template>

<style scoped>
.centre {
  padding: 96px 24px;
  text-align: center;
}
</style>
