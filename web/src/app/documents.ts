/** The kinds of documents that all rooms have, collected once for every screen. */
import { sellingDocuments } from './selling/documents';
import { buyingDocuments } from './buying/documents';
import { productionDocuments } from './production/documents';
import { dispatchDocuments } from './dispatch/documents';
import { accountsDocuments } from './accounts/documents';
import { storesDocuments } from './stores/documents';
import { catalogueDocuments } from './catalogue/documents';
import { collectDocuments } from './ui/documents';

collectDocuments([sellingDocuments, buyingDocuments, productionDocuments, dispatchDocuments, accountsDocuments, storesDocuments, catalogueDocuments]);
