export * from './caster';
export * from './ray';
