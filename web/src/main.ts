import './theme/fonts.css';
import './theme/tokens.css';
import './theme/base.css';
import { createPinia } from 'pinia';
import { message } from 'ant-design-vue';
import { createApp } from 'vue';
import App from './App.vue';
import { fetchScreens, router } from './router.ts';

// The toolkit makes style elements at run time; under the strict policy each needs the page's nonce.
const nonce = document.querySelector<HTMLMetaElement>('meta[property="csp-nonce"]')?.nonce ?? '';
const create = document.createElement.bind(document);
document.createElement = ((tag: string, options?: ElementCreationOptions) => {
  const element = create(tag, options);
  if (nonce && tag.toLowerCase() === 'style') element.setAttribute('nonce', nonce);
  return element;
}) as typeof document.createElement;

const app = createApp(App).use(createPinia()).use(router);
// nothing that goes wrong on a screen stays unsaid
app.config.errorHandler = (e) => {
  console.error(e);
  void message.error(`Something went wrong on this screen: ${e instanceof Error ? e.message : String(e)}`, 8);
};
app.mount('#app');
const soon = (): void => void setTimeout(fetchScreens, 3000);
router.isReady().then(soon, soon);
