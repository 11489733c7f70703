import { Table } from 'lucide-react';

export default () => Table;
