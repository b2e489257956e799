import { type SessionPort, serveWorkbench } from 'acuarela/workbench'

serveWorkbench(self as unknown as SessionPort)
