document.body.textContent = 'Kelbo'
