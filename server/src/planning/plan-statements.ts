/** Statements to the plan's file, each prepared once. */
import type Sqlite from 'better-sqlite3';

export class Statements {
  private readonly prepared = new Map<string, Sqlite.Statement>();

  constructor(private readonly file: Sqlite.Database) {}

  of(sql: string): Sqlite.Statement {
    let statement = this.prepared.get(sql);
    if (!statement) {
      statement = this.file.prepare(sql);
      this.prepared.set(sql, statement);
    }
    return statement;
  }
}
