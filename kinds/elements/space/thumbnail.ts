import { MoveVertical } from 'lucide-react';

export default () => MoveVertical;
