import '@fontsource-variable/bitter/index.css';
import '@fontsource-variable/source-sans-3/index.css';
import '@fontsource/ibm-plex-mono/400.css';
import '@fontsource/ibm-plex-mono/600.css';
import './styles.css';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { App, askForFirstView } from './App.tsx';
import { watchOtherTabs } from './session/session.ts';
import { tellUnforeseen } from './session/unforeseen.ts';
import { store } from './store/store.ts';

askForFirstView(location.pathname);
tellUnforeseen();
watchOtherTabs();
createRoot(document.getElementById('root')!).render(
  <Provider store={store}>
    <App />
  </Provider>,
);
