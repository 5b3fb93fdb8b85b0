find('item:bench')[1]:name('\255\254')
