import 'element-plus/es/components/table/style/css'
import 'element-plus/es/components/table-column/style/css'

/** Tables of records, with the styles they need. */
export { ElTable, ElTableColumn } from 'element-plus'
