// What the page shows while a form is filled in.
show("number", await text("bill.number", { number: form.number.value }));
show("sum", await text("bill.sum", { sum: form.sum.value }));
show("insured", await text("bill.insured", { share: form.share.value }));
show("due", await text("bill.due", { day: form.day.value }));
show("parts", await text("bill.parts", { parts: form.parts.value }));
show("dose", await text("medicines.dose", { pills: form.pills.value }));
show("times", await text("medicines.times", { times: form.times.value }));
show("until", await text("medicines.until", { day: form.day.value }));
show("amount", await text("medicines.amount", { amount: form.amount.value }));
show("left", await text("medicines.left", { left: form.left.value }));
