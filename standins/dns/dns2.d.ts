/** What of dns2 is used; the package ships no types. */
declare module "dns2" {
  interface Question {
    name: string;
    type: number;
  }
  interface Answer {
    name: string;
    type: number;
    class: number;
    ttl: number;
    exchange?: string;
    priority?: number;
    address?: string;
    data?: string;
    target?: string;
    port?: number;
    weight?: number;
  }
  interface Message {
    header: { rcode: number };
    questions: Question[];
    answers: Answer[];
  }
  const dns2: {
    Packet: {
      TYPE: Record<"A" | "MX" | "AAAA" | "TXT" | "SRV", number>;
      CLASS: { IN: number };
      RCODE?: Record<string, number>;
      createResponseFromRequest(request: Message): Message;
    };
    createServer(options: {
      udp: boolean;
      handle(request: Message, send: (response: Message) => void): void;
    }): {
      listen(options: { udp: { port: number; address: string } }): Promise<unknown>;
      close(): Promise<unknown>;
    };
  };
  export default dns2;
}
