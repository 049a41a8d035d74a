//! The pages of the shop: every text is asked for once.

fn account(t: &Translator, page: &Page) -> Markup {
    html! {
        p { (t.html(("account.hello", args! { name: page.name }))) }
        p { (t.html("account.sign-in")) }
        p { (t.html("account.sign-out")) }
        p { (t.html("account.new")) }
        p { (t.html(("account.since", args! { day: page.day }))) }
        p { (t.html("account.close")) }
        p { (t.html("account.closed")) }
        p { (t.html(("account.last", args! { moment: page.moment }))) }
        p { (t.html("account.password.label")) }
        p { (t.html(("account.password.least", args! { least: page.least }))) }
        p { (t.html("account.password.forgotten")) }
        p { (t.html(("account.password.sent", args! { address: page.address }))) }
        p { (t.html("account.address.book")) }
        p { (t.html("account.address.main")) }
        p { (t.html("account.address.delete")) }
        p { (t.html("account.card.title")) }
        p { (t.html(("account.card.points", args! { points: page.points }))) }
    }
}

fn basket(t: &Translator, page: &Page) -> Markup {
    html! {
        p { (t.html("basket.title")) }
        p { (t.html("basket.empty")) }
        p { (t.html("basket.add")) }
        p { (t.html(("basket.added", args! { name: page.name }))) }
        p { (t.html(("basket.remove", args! { name: page.name }))) }
        p { (t.html("basket.amount")) }
        p { (t.html(("basket.items", args! { count: page.count }))) }
        p { (t.html(("basket.with", args! { count: page.count, first: page.first }))) }
        p { (t.html("basket.sum")) }
        p { (t.html("basket.shipping")) }
        p { (t.html(("basket.total", args! { sum: page.sum }))) }
        p { (t.html(("basket.saved", args! { sum: page.sum }))) }
        p { (t.html(("basket.free-from", args! { sum: page.sum }))) }
        p { (t.html(("basket.most", args! { most: page.most }))) }
        p { (t.html("basket.clear")) }
        p { (t.html("basket.checkout")) }
        p { (t.html("basket.code.label")) }
        p { (t.html("basket.code.button")) }
        p { (t.html(("basket.code.wrong", args! { code: page.code }))) }
        p { (t.html(("basket.code.expired", args! { day: page.day }))) }
    }
}

fn checkout(t: &Translator, page: &Page) -> Markup {
    html! {
        p { (t.html("checkout.title")) }
        p { (t.html(("checkout.step", args! { n: page.n, all: page.all, name: page.name }))) }
        p { (t.html("checkout.who")) }
        p { (t.html("checkout.where")) }
        p { (t.html("checkout.how")) }
        p { (t.html("checkout.terms")) }
        p { (t.html("checkout.news")) }
        p { (t.html("checkout.buy")) }
        p { (t.html("checkout.field.name")) }
        p { (t.html("checkout.field.street")) }
        p { (t.html("checkout.field.code")) }
        p { (t.html("checkout.field.town")) }
        p { (t.html("checkout.field.country")) }
        p { (t.html("checkout.field.phone")) }
        p { (t.html("checkout.field.mail")) }
        p { (t.html("checkout.field.note")) }
        p { (t.html("checkout.ship.post")) }
        p { (t.html("checkout.ship.boat")) }
        p { (t.html(("checkout.ship.pick-up", args! { quay: page.quay }))) }
        p { (t.html(("checkout.ship.days", args! { days: page.days, most: page.most }))) }
        p { (t.html("checkout.ship.free")) }
        p { (t.html("checkout.pay.card")) }
        p { (t.html("checkout.pay.transfer")) }
        p { (t.html("checkout.pay.invoice")) }
        p { (t.html("checkout.pay.tidepay")) }
        p { (t.html("checkout.pay.with")) }
        p { (t.html("checkout.card.number")) }
        p { (t.html("checkout.card.until")) }
        p { (t.html(("checkout.card.ending", args! { digits: page.digits }))) }
        p { (t.html(("checkout.error.empty", args! { field: page.field }))) }
        p { (t.html(("checkout.error.mail", args! { address: page.address }))) }
        p { (t.html(("checkout.error.code", args! { digits: page.digits }))) }
        p { (t.html("checkout.error.card")) }
        p { (t.html(("checkout.thanks.title", args! { name: page.name }))) }
        p { (t.html(("checkout.thanks.text", args! { number: page.number }))) }
        p { (t.html(("checkout.thanks.when", args! { day: page.day }))) }
    }
}

fn common(t: &Translator, page: &Page) -> Markup {
    html! {
        p { (t.html("common.title")) }
        p { (t.html("common.skip")) }
        p { (t.html(("common.page", args! { page: page.page, pages: page.pages }))) }
        p { (t.html("common.back")) }
        p { (t.html("common.next")) }
        p { (t.html("common.more")) }
        p { (t.html("common.close")) }
        p { (t.html("common.cancel")) }
        p { (t.html("common.save")) }
        p { (t.html("common.yes")) }
        p { (t.html("common.no")) }
        p { (t.html("common.required")) }
        p { (t.html("common.optional")) }
        p { (t.html("common.language")) }
        p { (t.html(("common.hours", args! { open: page.open, close: page.close }))) }
        p { (t.html(("common.holiday", args! { first: page.first, last: page.last }))) }
        p { (t.html(("common.copyright", args! { year: page.year }))) }
        p { (t.html("common.menu.home")) }
        p { (t.html("common.menu.goods")) }
        p { (t.html("common.menu.basket")) }
        p { (t.html("common.menu.account")) }
        p { (t.html("common.menu.help")) }
        p { (t.html("common.menu.close")) }
        p { (t.html("common.search.label")) }
        p { (t.html("common.search.button")) }
        p { (t.html(("common.search.none", args! { query: page.query }))) }
        p { (t.html(("common.search.found", args! { count: page.count }))) }
        p { (t.html("common.cookies.text")) }
        p { (t.html("common.cookies.fine")) }
        p { (t.html("common.error.title")) }
        p { (t.html("common.error.text")) }
        p { (t.html("common.missing.title")) }
        p { (t.html("common.missing.text")) }
    }
}

fn goods(t: &Translator, page: &Page) -> Markup {
    html! {
        p { (t.html("goods.title")) }
        p { (t.html("goods.lead")) }
        p { (t.html(("goods.price", args! { price: page.price }))) }
        p { (t.html(("goods.price-from", args! { price: page.price }))) }
        p { (t.html(("goods.price-range", args! { least: page.least, most: page.most }))) }
        p { (t.html(("goods.discount", args! { share: page.share }))) }
        p { (t.html("goods.tax")) }
        p { (t.html(("goods.weight", args! { weight: page.weight }))) }
        p { (t.html(("goods.length", args! { length: page.length }))) }
        p { (t.html(("goods.material", args! { materials: page.materials }))) }
        p { (t.html("goods.maker")) }
        p { (t.html(("goods.photo", args! { name: page.name }))) }
        p { (t.html(("goods.gallery", args! { n: page.n, all: page.all }))) }
        p { (t.html(("goods.rating", args! { stars: page.stars }))) }
        p { (t.html(("goods.reviews", args! { count: page.count }))) }
        p { (t.html(("goods.care", args! { degrees: page.degrees }))) }
        p { (t.html("goods.kind.clothes")) }
        p { (t.html("goods.kind.maps")) }
        p { (t.html("goods.kind.food")) }
        p { (t.html("goods.kind.toys")) }
        p { (t.html("goods.kind.vouchers")) }
        p { (t.html("goods.kind.sale")) }
        p { (t.html("goods.sort.label")) }
        p { (t.html("goods.sort.price")) }
        p { (t.html("goods.sort.new")) }
        p { (t.html("goods.sort.name")) }
        p { (t.html("goods.filter.size")) }
        p { (t.html("goods.filter.colour")) }
        p { (t.html("goods.filter.clear")) }
        p { (t.html("goods.colour.blue")) }
        p { (t.html("goods.colour.green")) }
        p { (t.html("goods.colour.grey")) }
        p { (t.html("goods.colour.red")) }
        p { (t.html("goods.colour.white")) }
        p { (t.html("goods.stock.many")) }
        p { (t.html(("goods.stock.left", args! { left: page.left }))) }
        p { (t.html(("goods.stock.again", args! { day: page.day }))) }
        p { (t.html(("goods.review.by", args! { name: page.name, day: page.day }))) }
        p { (t.html(("goods.review.bought", args! { gender: page.gender }))) }
        p { (t.html("goods.review.write")) }
        p { (t.html("goods.tea.title")) }
        p { (t.html("goods.tea.text")) }
        p { (t.html("goods.pullover.title")) }
        p { (t.html("goods.pullover.text")) }
        p { (t.html("goods.map.title")) }
        p { (t.html(("goods.map.scale", args! { scale: page.scale }))) }
        p { (t.html("goods.boat.title")) }
        p { (t.html(("goods.boat.age", args! { years: page.years }))) }
        p { (t.html("goods.voucher.title")) }
        p { (t.html(("goods.voucher.valid", args! { day: page.day }))) }
    }
}

fn mail(t: &Translator, page: &Page) -> Markup {
    html! {
        p { (t.html(("mail.subject", args! { number: page.number }))) }
        p { (t.html(("mail.greeting", args! { name: page.name }))) }
        p { (t.html(("mail.sent", args! { link: page.link }))) }
        p { (t.html(("mail.who", args! { people: page.people, list: page.list }))) }
        p { (t.html("mail.regards")) }
        p { (t.html("mail.signed")) }
        p { (t.html("mail.why")) }
        p { (t.html(("mail.stop", args! { link: page.link }))) }
    }
}

fn orders(t: &Translator, page: &Page) -> Markup {
    html! {
        p { (t.html("orders.title")) }
        p { (t.html("orders.none")) }
        p { (t.html(("orders.number", args! { number: page.number }))) }
        p { (t.html(("orders.placed", args! { day: page.day }))) }
        p { (t.html(("orders.state", args! { state: page.state }))) }
        p { (t.html(("orders.parcels", args! { parcels: page.parcels, state: page.state }))) }
        p { (t.html("orders.track")) }
        p { (t.html("orders.again")) }
        p { (t.html("orders.cancel")) }
        p { (t.html(("orders.cancelled", args! { moment: page.moment }))) }
        p { (t.html("orders.invoice")) }
        p { (t.html("orders.return.title")) }
        p { (t.html(("orders.return.until", args! { day: page.day }))) }
        p { (t.html("orders.return.why")) }
        p { (t.html("orders.return.small")) }
        p { (t.html("orders.return.large")) }
        p { (t.html("orders.return.broken")) }
        p { (t.html(("orders.return.money", args! { sum: page.sum }))) }
    }
}

