import { mount } from 'svelte';
import App from './app.svelte';
import './app.css';

mount(App, { target: document.getElementById('app')! });
