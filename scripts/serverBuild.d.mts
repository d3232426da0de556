export function serverBuild(): Promise<string>
