export { engineOverHttp, type HttpEngineOptions } from './http/client.js'
export { type EngineHandlerOptions, engineHandler } from './http/handler.js'
