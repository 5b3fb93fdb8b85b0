require('../../../etc/passwd')
