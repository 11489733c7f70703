export { CircleQuestionMark as default } from 'lucide';
