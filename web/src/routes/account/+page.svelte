<script lang="ts">
  import Account from '$lib/house/Account.svelte';

  let { data } = $props();
</script>

<svelte:head><title>Your account · Crow Lane</title></svelte:head>
<Account me={data.me} signIns={data.signIns} tokens={data.tokens} />
