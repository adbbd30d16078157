import { flushPromises, mount, type VueWrapper } from '@vue/test-utils';
import ElementPlus from 'element-plus';
import { type Pinia } from 'pinia';
import { type Component } from 'vue';
import { createMemoryHistory, createRouter } from 'vue-router';

/** A component as in the application: its parts, stores and addresses, on the page. */
export async function mounted(
  component: Component,
  pinia: Pinia,
  props: object = {},
  at = '/project/7/gather/files',
): Promise<VueWrapper> {
  const nothing = { template: '<div />' };
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [
      { path: '/project/:projectId/:stage?/:panel?/:dataset?', component: nothing },
      { path: '/', component: nothing },
    ],
  });
  await router.push(at);
  const wrapper = mount(component, {
    props: { ...props },
    attachTo: document.body,
    global: { plugins: [pinia, ElementPlus, router] },
  });
  await flushPromises();
  return wrapper;
}

/** The words of a component as they are read, white space aside. */
export const wordsOf = (wrapper: VueWrapper) => wrapper.text().replace(/\s+/g, ' ').trim();
/** The field with a name for those who read the screen aloud. */
export const field = (wrapper: VueWrapper, name: string) =>
  wrapper.get<HTMLInputElement>(`input[aria-label="${name}"]`);
/** The button with these words. */
export function button(wrapper: VueWrapper, words: string) {
  const found = wrapper.findAll('button').find((b) => b.text().trim() === words);
  if (!found)
    throw new Error(
      `no button "${words}" among ${wrapper
        .findAll('button')
        .map((b) => b.text())
        .join(', ')}`,
    );
  return found;
}
