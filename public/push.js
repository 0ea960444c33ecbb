// Shows push messages. The message is encrypted for this browser alone (RFC 8291).
self.addEventListener('push', (event) => {
  const { title, body, link, urgent, key } = event.data.json()
  event.waitUntil(self.registration.showNotification(title, { body, tag: key, requireInteraction: urgent, data: { link } }))
})
self.addEventListener('notificationclick', (event) => {
  event.notification.close()
  if (event.notification.data.link) event.waitUntil(self.clients.openWindow(event.notification.data.link))
})
