export { findingName } from '@bevrin/contract';
