export { Snowflake as default } from 'lucide';
