/** What is asked before something that was posted is taken back. */
export const CONTRARY = { consequences: 'A contrary entry is posted; nothing is deleted.', action: 'Take it back' };
