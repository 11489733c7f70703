export { default } from '../file/input.tsx';
