export default async function teardown() {
  await globalThis.keenTestDatabase?.stop();
}
