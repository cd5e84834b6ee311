import pandas as pd, numpy as np, datetime as dt
df=pd.DataFrame({'id':np.array([1,2,3,4,5],dtype='int32'),'valley':['Alderwick','Bramble Down',"Müller's Croft",'Coldbrook','Dunmarsh'],'keeps':pd.Categorical(['as a hobby','on the side','for a living','as a hobby',None],categories=['as a hobby','on the side','for a living'],ordered=True),'weight':np.array([24.5,np.nan,19.125,130,24.7],dtype='float32'),'exact':[0.1,2.5,np.nan,-1e10,3],'small':np.array([1,-5,100,7,8],dtype='int8'),'mid':np.array([1000,-32000,5,6,7],dtype='int16'),'since':pd.to_datetime(['2011-05-01','2018-12-31',None,'1959-12-31','2024-02-29']),'moment':pd.to_datetime(['2025-09-20 12:30:15','2025-09-21','2000-01-01 23:59:59','1970-01-01 00:00:01',None]),'note':['x'*290+'end','short','','y','z']})
labels={'weight':'Weight of the hive (kg)','keeps':'How bees are kept'}
for v in (114,117,118,119):
    d=df.drop(columns=['note']) if v==114 else df
    if v==114: d=d.assign(valley=d.valley)
    d.to_stata(f'd{v}.dta',version=v,write_index=False,variable_labels=labels,convert_dates={'since':'td','moment':'tc'},**({'convert_strl':['note']} if v>=117 else {}))
df.drop(columns=['note']).to_stata('big.dta',version=118,byteorder='>',write_index=False,variable_labels=labels,convert_dates={'since':'td','moment':'tc'})
df.to_stata('v118lab.dta',version=118,write_index=False,variable_labels=labels,value_labels={'small':{1:'one',100:'hundred'}},convert_dates={'since':'td','moment':'tc'})
