import { defineComponent, h, type Component } from 'vue';
import { type Operation } from '@longheron/contract/operations';

/** The page of an operation that has no panel of its own, loaded when it is opened. */
export async function operationPage(operation: Operation | undefined): Promise<Component> {
  const { default: OperationPage } = await import('./OperationPage.vue');
  return defineComponent({
    name: 'OperationPanel',
    setup: () => () => operation && h(OperationPage, { operation, key: operation }),
  });
}
