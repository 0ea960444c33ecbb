import protobuf from 'protobufjs'
import { TryFailure } from '../attempt/failure'

/** How one unary call is written and read. */
export interface Call {
  /** `/package.Service/Method`. */
  path: string
  request: Buffer
  /** The answer as JSON text. Throws TryFailure when it cannot be read. */
  read: (bytes: Buffer) => string
}

/** The standard health service (grpc.health.v1). */
const HEALTH = `syntax = "proto3"; package grpc.health.v1;
message HealthCheckRequest { string service = 1; }
message HealthCheckResponse { enum ServingStatus { UNKNOWN = 0; SERVING = 1; NOT_SERVING = 2; SERVICE_UNKNOWN = 3; } ServingStatus status = 1; }
service Health { rpc Check(HealthCheckRequest) returns (HealthCheckResponse); }`

export const healthCall = (service: string): Call => callOf(HEALTH, 'grpc.health.v1.Health/Check', { service })

/** Makes a call from the text of a proto file. Throws TryFailure when file, method or message do not fit together. */
export function callOf(proto: string, method: string, message: Record<string, unknown>): Call {
  const [serviceName = '', methodName = ''] = method.split('/')
  try {
    const { root } = protobuf.parse(proto, { keepCase: true })
    root.resolveAll()
    const service = root.lookupService(serviceName)
    const found = service.methods[methodName]
    if (!found) throw new Error(`the proto file has no method ${methodName} in ${serviceName}`)
    if (found.requestStream || found.responseStream) throw new Error(`${method} streams, and a check makes one call with one answer`)
    const request = service.lookupType(found.requestType)
    const response = service.lookupType(found.responseType)
    return {
      path: `/${method}`,
      request: Buffer.from(request.encode(request.fromObject(message)).finish()),
      read: (bytes) => {
        try {
          return JSON.stringify(response.toObject(response.decode(bytes), { enums: String, longs: String, bytes: String, defaults: true }))
        } catch {
          throw new TryFailure('bad-answer', `the answer is no ${found.responseType}`)
        }
      }
    }
  } catch (error) {
    throw error instanceof TryFailure ? error : new TryFailure('bad-definition', `the proto file and the call do not fit together: ${error instanceof Error ? error.message : 'it cannot be read'}`.slice(0, 300))
  }
}
