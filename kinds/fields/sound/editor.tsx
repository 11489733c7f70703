export { FileEditor as default } from '../../../studio/data/FileEditor.tsx';
